import { request as httpRequest } from 'node:http';
import { request as httpsRequest } from 'node:https';

/** The status with which a public page answers, as a visitor sees it; 0 where none does. */
export function pageStatus(url: string): Promise<number> {
  const send = url.startsWith('https:') ? httpsRequest : httpRequest;
  return new Promise((settle) => {
    const request = send(url, { timeout: 20_000 }, (response) => { response.resume(); settle(response.statusCode ?? 0); });
    request.on('timeout', () => { request.destroy(); });
    request.on('error', () => { settle(0); });
    request.end();
  });
}
