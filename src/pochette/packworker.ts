import { parentPort } from 'node:worker_threads';
import { packBatch, type Batch } from './packing.ts';

/** The other thread of the ZIP writer: batches come in order and go back in order. */
parentPort?.on('message', (batch: Batch) => {
  const packed = packBatch(batch);
  parentPort?.postMessage(packed, [packed.bytes.buffer as ArrayBuffer]);
});
