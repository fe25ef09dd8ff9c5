import { request as httpRequest, type IncomingMessage } from 'node:http';
import { request as httpsRequest } from 'node:https';

/** Asks for a public page as a visitor does; `none` where it does not answer, or stops. `read` settles it. */
function asked<T>(url: string, method: 'GET' | 'HEAD', none: T, read: (response: IncomingMessage, settle: (answer: T | Promise<T>) => void) => void): Promise<T> {
  const send = url.startsWith('https:') ? httpsRequest : httpRequest;
  return new Promise((settle) => {
    const request = send(url, { method, timeout: 20_000 }, (response) => { read(response, settle); });
    request.on('timeout', () => { request.destroy(); });
    request.on('error', () => { settle(none); });
    request.end();
  });
}

/** The status with which a public page answers, as a visitor sees it; 0 where none does. */
export function pageStatus(url: string): Promise<number> {
  return asked(url, 'GET', 0, (response, settle) => { response.resume(); settle(response.statusCode ?? 0); });
}

/** The same of a file, which is not fetched (RFC 9110, section 9.3.2); 404 too where a page comes instead of it. Within the site it may be sent on `hops` times; what is sent elsewhere answers with the status that says so. */
export function fileStatus(url: string, hops = 3): Promise<number> {
  return asked(url, 'HEAD', 0, (response, settle) => {
    const { statusCode = 0, headers: { location, 'content-type': type } } = response;
    response.resume();
    const next = location !== undefined && hops > 0 && URL.canParse(location, url) ? new URL(location, url) : undefined;
    settle(next?.host === new URL(url).host && statusCode >= 300 && statusCode < 400 ? fileStatus(next.href, hops - 1) : statusCode === 200 && isPage(type) ? 404 : statusCode);
  });
}

function isPage(type: string | undefined): boolean { return /^text\/html\b/i.test(type ?? ''); }

/** The HTML of a public page, as a visitor gets it; undefined where it does not answer, is no HTML, or is larger than `most` bytes. */
export function pageText(url: string, most: number): Promise<string | undefined> {
  return asked<string | undefined>(url, 'GET', undefined, (response, settle) => {
    const chunks: Buffer[] = [];
    let size = 0;
    if (response.statusCode !== 200 || !isPage(response.headers['content-type'])) { response.resume(); settle(undefined); return; }
    response.on('data', (chunk: Buffer) => { size += chunk.length; if (size > most) { response.destroy(); settle(undefined); } else chunks.push(chunk); });
    response.on('end', () => { settle(Buffer.concat(chunks).toString('utf8')); });
    response.on('error', () => { settle(undefined); });
  });
}
