// The paths of the site protocol as OpenAPI 3.1; the schemas are handed in.
const ref = (name) => ({ $ref: `#/components/schemas/${name}` });
const json = (name, description = 'OK') => ({ description, content: { 'application/json': { schema: ref(name) } } });
const problem = (description) => ({ description, content: { 'application/problem+json': { schema: ref('ProblemDocument') } } });
const stream = (names, description) => ({ description: `${description} One JSON value a line; the last line is a StreamEnd, and without it the stream was cut.`, content: { 'application/x-ndjson': { schema: { anyOf: [...[names].flat(), 'StreamEnd'].map(ref) } } } });
const nothing = (description) => ({ description });
const body = (name) => ({ required: true, content: { 'application/json': { schema: ref(name) } } });
const parameter = (name, schema = { type: 'string' }) => ({ name, in: 'path', required: true, schema });
const READ = { 401: problem('No token, or one that is not known (RFC 6750)') };
const WRITE = { ...READ, 403: problem('The token may only read'), 423: problem('Someone else holds the writer\'s lock'), 428: problem('The writer\'s lock was not taken') };
const DIGEST = parameter('digest', { type: 'string', pattern: '^[0-9a-f]{64}$' });
const LOCK = { name: 'Pochette-Lock', in: 'header', required: false, schema: { type: 'string' }, description: 'Token of the writer\'s lock; needed wherever something is written' };

export function openapi(protocol, schema) {
  const { PATHS, DISCOVERY, PROTOCOL } = protocol;
  const names = ['Discovery', 'Facts', 'KindDescription', 'IndexRow', 'LocalItem', 'StreamEnd', 'ReadRequest', 'ExactRecord', 'BatchRequest', 'BatchAnswers', 'LockRequest', 'Lock', 'Ledger', 'LedgerChange', 'FormsRequest', 'Forms', 'ProblemDocument'];
  const at = (path) => `/pochette/v1${path}`;
  return {
    openapi: '3.1.0',
    info: { title: 'Pochette site protocol', version: `${PROTOCOL}.0.0`, description: 'What the counterpart of Pochette on a site offers. Built from open standards: JSON and NDJSON over HTTP, discovery (RFC 8615), bearer tokens (RFC 6750), problem details (RFC 9457), ETag and conditional requests (RFC 9110), Content-Digest (RFC 9530), Retry-After. The base path is the one that discovery tells; here /pochette/v1.' },
    security: [{ token: [] }],
    paths: {
      [DISCOVERY]: { get: { summary: 'Where the protocol is, and in which version', security: [], responses: { 200: json('Discovery') } } },
      [at(PATHS.facts)]: { get: { summary: 'What the site is: CMS, id, address, extensions, theme, limits, abilities, rights of the token', responses: { 200: json('Facts'), ...READ } } },
      [at(PATHS.kinds)]: { get: { summary: 'The kinds of items, each described by data', responses: { 200: { description: 'OK', content: { 'application/json': { schema: { type: 'object', required: ['kinds'], properties: { kinds: { type: 'array', items: ref('KindDescription') } } } } } }, ...READ } } },
      [at(PATHS.items)]: { get: { summary: 'All items in code-unit order of their addresses', parameters: [{ name: 'bodies', in: 'query', schema: { enum: ['1'] }, description: '1: with values; else the index only' }], responses: { 200: stream(['LocalItem', 'IndexRow'], 'With bodies: local items; without: index rows, which have no value.'), ...READ } } },
      [at(PATHS.read)]: { post: { summary: 'Those items, with values; items that are not there are passed over', requestBody: body('ReadRequest'), responses: { 200: stream('LocalItem', 'In the order asked for.'), 400: problem('Not understood'), ...READ } } },
      [at(PATHS.records)]: { post: { summary: 'Exact records, opaque to everyone but the site, for undo', requestBody: body('ReadRequest'), responses: { 200: stream('ExactRecord', 'In the order asked for.'), 400: problem('Not understood'), ...READ } } },
      [at(`${PATHS.items}/{owner}/{kind}/{id}`)]: { get: { summary: 'One item, with its ETag', parameters: [parameter('owner'), parameter('kind'), parameter('id', { type: 'integer' })], responses: { 200: { ...json('LocalItem'), headers: { ETag: { schema: { type: 'string' } } } }, 304: nothing('Unchanged since the etag of If-None-Match'), 404: problem('No such item'), ...READ } } },
      [at(PATHS.batch)]: { post: { summary: 'Creates, updates, deletes and restores, each with its own precondition, key and answer', description: 'In the order given. After the first refusal nothing more is done, and the rest is answered with status 424. An operation whose key was answered before is not done again: it gets the same answer.', parameters: [LOCK], requestBody: body('BatchRequest'), responses: { 200: json('BatchAnswers'), 400: problem('Not understood'), 413: problem('Larger than limits.requestBytes'), ...WRITE } } },
      [at(`${PATHS.media}/{digest}`)]: {
        get: { summary: 'A media file by its SHA-256', parameters: [DIGEST], responses: { 200: { description: 'The bytes, with Content-Digest', headers: { 'Content-Digest': { schema: { type: 'string' } } }, content: { '*/*': {} } }, 404: problem('No such file'), ...READ } },
        put: { summary: 'Uploads a media file', parameters: [DIGEST, LOCK], requestBody: { required: true, content: { '*/*': {} } }, responses: { 201: nothing('Stored'), 204: nothing('It was there already'), 400: problem('Not a digest'), 413: problem('Larger than limits.uploadBytes'), 415: problem('Not one of limits.uploadTypes'), 422: problem('The bytes do not match the digest'), ...WRITE } },
      },
      [at(PATHS.lock)]: {
        post: { summary: 'Takes the writer\'s lock, or renews it with its token', parameters: [LOCK], requestBody: body('LockRequest'), responses: { 201: json('Lock', 'Held until it expires'), 400: problem('Not understood'), ...READ, 403: WRITE[403], 423: WRITE[423] } },
        delete: { summary: 'Gives the lock back', parameters: [LOCK], responses: { 204: nothing('Given back'), ...WRITE } },
      },
      [at(PATHS.caches)]: { post: { summary: 'Renews caches: visitors see what was written', responses: { 204: nothing('Renewed'), ...READ, 403: WRITE[403] } } },
      [at(PATHS.ledger)]: {
        get: { summary: 'The site\'s memory: runs, and where each item came from', responses: { 200: json('Ledger'), ...READ } },
        post: { summary: 'Adds a run, origins and bases of items with their forms, or forgets them', requestBody: body('LedgerChange'), responses: { 204: nothing('Remembered'), 400: problem('Not understood'), ...READ, 403: WRITE[403] } },
      },
      [at(PATHS.forms)]: { post: { summary: 'Forms that bases name, by digest', requestBody: body('FormsRequest'), responses: { 200: json('Forms', 'Those that are there'), 400: problem('Not understood'), ...READ } } },
    },
    components: {
      securitySchemes: { token: { type: 'http', scheme: 'bearer' } },
      schemas: Object.fromEntries(names.map((name) => { const one = schema(protocol[name], ['ReadRequest', 'BatchRequest', 'LockRequest', 'LedgerChange', 'KindDescription'].includes(name) ? 'input' : 'output'); delete one.$schema; return [name, loosened(one)]; })),
    },
  };
}

/** A reader takes members that it does not know: newer sites may tell more. */
function loosened(schema) {
  if (Array.isArray(schema)) return schema.map(loosened);
  if (typeof schema !== 'object' || schema === null) return schema;
  return Object.fromEntries(Object.entries(schema).filter(([key, value]) => !(key === 'additionalProperties' && value === false)).map(([key, value]) => [key, loosened(value)]));
}
