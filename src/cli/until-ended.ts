/** Waits until a signal asks the process to end. */
export function untilEnded(): Promise<void> {
  return new Promise((resolve) => {
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(signal, () => resolve());
  });
}
