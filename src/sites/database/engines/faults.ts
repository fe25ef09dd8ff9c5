/** What went wrong with a server, in words, and what to do. */
export interface Fault { readonly what: string; readonly remedy: string; /** The tables are other ones than those that are known. */ readonly altered?: true }
interface Rule { readonly codes: readonly (string | number)[]; readonly text?: RegExp; readonly what: (message: string) => string; readonly remedy: string; readonly altered?: true }

const NETWORK: Rule = { codes: ['ECONNREFUSED', 'ENOENT', 'ETIMEDOUT', 'ENOTFOUND', 'EHOSTUNREACH'], text: /timeout expired/, what: () => 'no database server answers', remedy: 'is it running, and are host, port or socket in pochette.yaml right?' };
const USER = { what: () => 'the database server refuses the user or the password', remedy: 'check user and password in pochette.yaml' };
const CERTIFICATE: Rule = {
  codes: ['HANDSHAKE_SSL_ERROR', 'SELF_SIGNED_CERT_IN_CHAIN', 'DEPTH_ZERO_SELF_SIGNED_CERT', 'UNABLE_TO_VERIFY_LEAF_SIGNATURE', 'CERT_HAS_EXPIRED', 'ERR_TLS_CERT_ALTNAME_INVALID', 'UNABLE_TO_GET_ISSUER_CERT_LOCALLY'],
  text: /does not support (SSL|secure)|self[- ]signed certificate|certificate verify failed/i, what: (message) => `the connection cannot be encrypted, or the certificate of the database server is not trusted: ${message}`, remedy: 'give the certificate of its issuer as "tls: { ca: FILE }" in pochette.yaml',
};
const DATABASE = { what: (message: string) => `the database is not there, or not for this user: ${message}`, remedy: 'check the name of the database in the url' };
const RIGHT = { what: (message: string) => `the database user may not do this: ${message}`, remedy: 'give the user the right, or use another one' };
const FULL = { what: () => 'the database server takes no more connections', remedy: 'try again in a moment' };
/** As when a copy of the database was put back meanwhile. */
const ALTERED = { altered: true as const, what: (message: string) => `the tables are other ones than before: ${message}`, remedy: 'try again; if it stays so, look whether the layout fits ("pochette layout check")' };
const BROKEN = { what: () => 'the database server broke off the connection', remedy: 'look whether the server is running, then try again' };

export const MYSQL_FAULTS: readonly Rule[] = [
  CERTIFICATE, NETWORK, { ...USER, codes: [1045, 1698] }, { ...DATABASE, codes: [1044, 1049] }, { ...RIGHT, codes: [1142, 1143, 1290, 1227] }, { ...FULL, codes: [1040, 1203] }, { ...ALTERED, codes: [1146] },
  { ...BROKEN, codes: ['PROTOCOL_CONNECTION_LOST', 'ECONNRESET', 'EPIPE', 1053, 1927], text: /closed state|Connection lost/ },
];
export const POSTGRES_FAULTS: readonly Rule[] = [
  CERTIFICATE, NETWORK, { ...USER, codes: ['28P01', '28000'] }, { ...DATABASE, codes: ['3D000'] }, { ...RIGHT, codes: ['42501', '25006'] }, { ...FULL, codes: ['53300'] }, { ...ALTERED, codes: ['42P01'] },
  { ...BROKEN, codes: ['57P01', '57P02', '57P03', 'ECONNRESET', 'EPIPE'], text: /terminated|not queryable|Client has encountered|connection error/i },
];
export const SQLITE_FAULTS: readonly Rule[] = [
  { codes: ['SQLITE_READONLY'], text: /readonly|read-only/i, what: () => 'the database can only be read', remedy: 'give your user the right to write the file and its folder' },
  { codes: ['SQLITE_BUSY'], text: /database is locked/i, what: () => 'another program is writing to the database', remedy: 'try again when it is done' },
  { ...ALTERED, codes: [], text: /no such table/i },
  { codes: ['SQLITE_NOTADB', 'SQLITE_CORRUPT'], text: /not a database|malformed|disk I\/O/i, what: (message) => `the database cannot be read: ${message}`, remedy: 'is it a SQLite database, and is it whole?' },
];

/** The first rule that fits an error of a driver; undefined where none does. */
export function faultOf(rules: readonly Rule[], error: unknown): Fault | undefined {
  const { code, errno, message = '' } = error as { code?: string; errno?: number; message?: string };
  const rule = rules.find((one) => (code !== undefined && one.codes.includes(code)) || (errno !== undefined && one.codes.includes(errno)) || one.text?.test(message) === true);
  return rule && { what: rule.what(message), remedy: rule.remedy, ...(rule.altered ? { altered: rule.altered } : {}) };
}
