/** Runs once when the server starts: opens the data folder and, when asked to, fills the Shelf. */
export async function register(): Promise<void> {
  // Written as one block, so that it is left out of what is built for other runtimes.
  if (process.env.NEXT_RUNTIME === 'nodejs') {
    try {
      const { startHouse } = await import('./server/start-house');
      await startHouse();
    } catch (error) {
      // A server without its house answers nothing: it ends, rather than trying again at every request.
      console.error(error);
      process.stderr.write('Kenosis: it cannot start; its message is above. Your data were not touched.\n');
      process.exit(1);
    }
  }
}
