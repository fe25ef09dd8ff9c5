import { createHash, randomUUID, timingSafeEqual } from 'node:crypto';
import type { FastifyRequest } from 'fastify';
import { isProblem } from '../../core/problem.ts';
import { LOCK_HEADER, type LockRequest, type ProblemDocument } from '../../protocol/index.ts';
import type { Connector } from '../connector.ts';

/** An answer that refuses, as problem details (RFC 9457). */
export class Refusal extends Error {
  readonly status: number;
  readonly detail: string | undefined;
  readonly remedy: string | undefined;

  constructor(status: number, title: string, detail?: string, remedy?: string) {
    super(title);
    this.status = status;
    this.detail = detail;
    this.remedy = remedy;
  }

  document(): ProblemDocument {
    return { type: 'about:blank', title: this.message, status: this.status, ...(this.detail === undefined ? {} : { detail: this.detail }), ...(this.remedy === undefined ? {} : { remedy: this.remedy }) };
  }
}

interface Held { readonly token: string; readonly wish: LockRequest; until: number; expiry: NodeJS.Timeout }

/** Who may do what: one token, reading unless writing is allowed, and the writer's lock, which is the connector's and ends when it is not renewed. */
export class Gate {
  readonly #connector: Connector;
  readonly #token: Buffer;
  readonly rights: readonly ('read' | 'write')[];
  #held: Held | undefined;

  constructor(connector: Connector, token: string, writable: boolean) {
    this.#connector = connector;
    this.#token = digest(token);
    this.rights = writable ? ['read', 'write'] : ['read'];
  }

  allow(request: FastifyRequest, right: 'read' | 'write'): void {
    const given = /^Bearer (.+)$/.exec(request.headers.authorization ?? '')?.[1];
    if (given === undefined || !timingSafeEqual(digest(given), this.#token)) throw new Refusal(401, given === undefined ? 'A token is needed' : 'This token is not known here', undefined, 'use the token that "pochette serve" was started with');
    if (!this.rights.includes(right)) throw new Refusal(403, 'This site is served for reading only', undefined, 'start "pochette serve" with --writable');
  }

  /** The right to write, and the lock. */
  allowWriting(request: FastifyRequest): void {
    this.allow(request, 'write');
    if (!this.#held) throw new Refusal(428, 'Take the writer\'s lock first');
    if (this.#held.token !== request.headers[LOCK_HEADER]) throw busy(this.#held);
  }

  /** Takes the lock, or renews it where the token is the holder's. */
  async take(wish: LockRequest, token: unknown): Promise<{ token: string; expires: string }> {
    if (this.#held && this.#held.token !== token) throw busy(this.#held);
    if (!this.#held) {
      try { await this.#connector.lock(wish); } catch (error) { if (isProblem(error) && error.code === 'blocked') throw new Refusal(423, error.message, error.where, error.remedy); throw error; }
    } else clearTimeout(this.#held.expiry);
    const held = { token: this.#held?.token ?? randomUUID(), wish, until: Date.now() + wish.seconds * 1000, expiry: setTimeout(() => { void this.release(); }, wish.seconds * 1000) };
    held.expiry.unref();
    this.#held = held;
    return { token: held.token, expires: new Date(held.until).toISOString() };
  }

  async release(): Promise<void> {
    if (!this.#held) return;
    clearTimeout(this.#held.expiry);
    this.#held = undefined;
    await this.#connector.unlock();
  }
}

function digest(text: string): Buffer { return createHash('sha256').update(text).digest(); }

function busy({ wish, until }: Held): Refusal {
  return new Refusal(423, 'Someone else is writing to this site', `${wish.owner}, run ${wish.run}, until ${new Date(until).toISOString()}`);
}
