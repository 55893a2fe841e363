import { fileURLToPath } from 'node:url';
import { isMainThread } from 'node:worker_threads';
import { cutShare } from './cut-many';
import { kenosis } from './kenosis';
import type runsMain from './runs-main';

/** Commands that carry out routines are a program of their own: the others need neither database nor queue. */
async function runs(args: readonly string[]): Promise<number> {
  const bundle = new URL('./kenosis-runs.mjs', import.meta.url).href;
  const { default: main } = (await import(bundle)) as { readonly default: typeof runsMain };
  return main(args);
}

if (isMainThread)
  process.exitCode = await kenosis(process.argv.slice(2), { program: fileURLToPath(import.meta.url), runs });

/** What a thread of the command line does. */
export default cutShare;
