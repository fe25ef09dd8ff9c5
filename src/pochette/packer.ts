import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { packBatch, type Batch, type PackedBatch } from './packing.ts';

/** Beside the bundled program; when run from sources there is none, and packing is done at once. */
const WORKER = typeof __dirname === 'string' ? join(__dirname, 'packworker.cjs') : '';
const MOST_WAITING = 4;

/** Packs batches in their order: in a second thread from the second batch on, so that small files do not pay for its start. */
export class Packer {
  readonly #onPacked: (packed: PackedBatch) => void;
  #worker: Worker | undefined;
  #waiting = 0;
  #batches = 0;
  #wake: (() => void) | undefined;
  #fault: Error | undefined;

  constructor(onPacked: (packed: PackedBatch) => void) { this.#onPacked = onPacked; }

  pack(batch: Batch): void {
    this.#batches++;
    if (this.#batches > 1 && !this.#worker && WORKER !== '' && existsSync(WORKER)) this.#start();
    if (!this.#worker) { this.#onPacked(packBatch(batch)); return; }
    this.#waiting++;
    this.#worker.postMessage(batch, [batch.bytes.buffer as ArrayBuffer]);
  }

  #start(): void {
    this.#worker = new Worker(WORKER, { resourceLimits: { maxYoungGenerationSizeMb: 4 } });
    this.#worker.on('message', (packed: PackedBatch) => { this.#waiting--; this.#onPacked(packed); this.#wake?.(); });
    this.#worker.on('error', (error) => { this.#fault = error; this.#wake?.(); });
  }

  /** Resolves when no more than a few batches wait: memory stays bounded. */
  async room(): Promise<void> { await this.#until(MOST_WAITING); }

  /** Resolves when everything has come back. */
  async done(): Promise<void> {
    await this.#until(0);
    await this.stop();
  }

  async stop(): Promise<void> { await this.#worker?.terminate(); }

  async #until(most: number): Promise<void> {
    while (this.#waiting > most && !this.#fault) await new Promise<void>((wake) => { this.#wake = wake; });
    if (this.#fault) throw this.#fault;
  }
}
