/** Runs once when the server starts: opens the data folder and, when asked to, fills the Shelf. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const { startHouse } = await import('./server/start-house');
  await startHouse();
}
