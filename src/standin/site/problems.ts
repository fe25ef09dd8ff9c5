/** A refusal of the simulated site, sent as a problem document (RFC 9457). */
export class Refusal extends Error {
  constructor(readonly status: number, title: string, readonly detail?: string, readonly more: { where?: string; remedy?: string } = {}) {
    super(title);
  }

  document() {
    return { type: 'about:blank', title: this.message, status: this.status, ...(this.detail === undefined ? {} : { detail: this.detail }), ...this.more };
  }
}
