import { randomUUID } from 'node:crypto';
import type { FastifyRequest } from 'fastify';
import { LOCK_HEADER, type LockRequest } from '../../protocol/index.ts';
import type { Cms } from '../site/cms.ts';
import { Refusal } from '../site/problems.ts';

interface HeldLock { token: string; owner: string; run: string; until: number }

/** Who may do what: tokens with rights, and the writer's lock, which expires. */
export class Guard {
  readonly #cms: Cms;
  #held: HeldLock | undefined;

  constructor(cms: Cms) { this.#cms = cms; }

  /** Throws 401 or 403; returns the token. */
  allow(request: FastifyRequest, right: 'read' | 'write'): { rights: string[]; user?: string } {
    const given = /^Bearer (.+)$/.exec(request.headers.authorization ?? '')?.[1];
    const token = this.#cms.state.config.tokens.find((one) => one.token === given);
    if (!token) throw new Refusal(401, given === undefined ? 'A token is needed' : 'This token is not known here', undefined, { remedy: 'ask the administrator of the site for a token' });
    if (!token.rights.includes(right)) throw new Refusal(403, 'This token may only read', undefined, { remedy: 'use a token with the right to write' });
    return token;
  }

  /** The right to write, and the lock. */
  allowWriting(request: FastifyRequest): void {
    this.allow(request, 'write');
    const lock = this.#holder();
    if (lock === undefined) throw new Refusal(428, 'Take the writer\'s lock first');
    if (lock.token !== request.headers[LOCK_HEADER]) throw busy(lock);
  }

  /** Takes the lock, or renews it where the token is the holder's. */
  take(wish: LockRequest, token: unknown): { token: string; expires: string } {
    const other = this.#holder();
    if (other && other.token !== token) throw busy(other);
    this.#held = { token: other?.token ?? randomUUID(), owner: wish.owner, run: wish.run, until: Date.now() + wish.seconds * 1000 };
    return { token: this.#held.token, expires: new Date(this.#held.until).toISOString() };
  }

  release(): void { this.#held = undefined; }

  #holder(): HeldLock | undefined { return this.#held && this.#held.until > Date.now() ? this.#held : undefined; }
}

function busy(lock: HeldLock): Refusal {
  return new Refusal(423, 'Someone else is writing to this site', `${lock.owner}, run ${lock.run}, until ${new Date(lock.until).toISOString()}`);
}
