import type { SingleBar } from 'cli-progress';
import type { OnProgress } from '../../jobs/workspace.ts';

const AFTER_MS = 1000;

/**
 * Shows how far long work has come, from the first second on; nothing where no one looks. `stop` takes the bar off the terminal: whoever prints
 * something calls it first, for the bar goes back to where it stood; the next progress shows another one.
 */
export function progressBar(stream: NodeJS.WriteStream, wanted: boolean): { onProgress: OnProgress; stop: () => void } {
  if (!wanted || !stream.isTTY) return { onProgress: () => undefined, stop: () => undefined };
  const begun = Date.now();
  let library: typeof import('cli-progress') | undefined;
  let asked = false;
  let bar: SingleBar | undefined;
  let phase = '';
  return {
    onProgress(progress) {
      if (Date.now() - begun < AFTER_MS) return;
      // Loaded only where work takes long.
      if (!asked) { asked = true; void import('cli-progress').then((loaded) => { library = loaded.default; }); }
      if (!library) return;
      if (!bar || phase !== progress.phase) {
        bar?.stop();
        phase = progress.phase;
        bar = new library.SingleBar({ format: '{phase}  {bar}  {value} of {total}, {eta_formatted} left', barsize: 30, stream, clearOnComplete: true, hideCursor: true }, library.Presets.shades_grey);
        bar.start(progress.total, progress.done, { phase });
      }
      bar.setTotal(progress.total);
      bar.update(progress.done, { phase });
    },
    stop() { bar?.stop(); bar = undefined; },
  };
}
