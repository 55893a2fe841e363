import type work from './core-worker';

// Imported, never required: Node.js ends the whole process where a thread is ended while it requires an ES module (seen in
// 20.20: "IsGraphAsync must be used on an instantiated module"), and an aborted task ends its thread.
const bundle = './core-worker.mjs';
const loading = import(bundle) as Promise<{ readonly default: typeof work }>;
// A bundle that cannot be loaded is told by the first task.
loading.catch(() => undefined);

/** What a worker thread loads first; it begins to load the bundle at once. */
export default async function perform(task: Parameters<typeof work>[0]): Promise<unknown> {
  return (await loading).default(task);
}
