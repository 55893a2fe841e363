import { lstat, open } from 'node:fs/promises';
import type sqlite3 from 'sqlite3';

export const DATABASE_FILE = 'kenosis.sqlite';

/** The addon, loaded when a database is first opened: the application is built while it is still being compiled. */
export async function sqliteAddon(): Promise<typeof sqlite3> {
  return (await import('sqlite3')).default;
}

/** A connection beside the pool's, for what the pool cannot do. */
export async function withConnection<T>(
  file: string,
  mode: 'read' | 'write',
  work: (connection: sqlite3.Database) => Promise<T>,
): Promise<T> {
  const { Database, OPEN_READONLY, OPEN_READWRITE } = await sqliteAddon();
  const flags = mode === 'read' ? OPEN_READONLY : OPEN_READWRITE;
  const connection = await new Promise<sqlite3.Database>((resolve, reject) => {
    const opened: sqlite3.Database = new Database(file, flags, (error) =>
      error ? reject(error) : resolve(opened),
    );
  });
  try {
    return await work(connection);
  } finally {
    await new Promise<void>((resolve) => connection.close(() => resolve()));
  }
}

/** All rows of a query. */
export function rowsOf<Row>(connection: sqlite3.Database, sql: string): Promise<Row[]> {
  return new Promise((resolve, reject) =>
    connection.all<Row>(sql, (error, rows) => (error ? reject(error) : resolve(rows))),
  );
}

/** Whether a file is a regular one that starts as every SQLite database does. */
export async function isDatabaseFile(file: string): Promise<boolean> {
  const facts = await lstat(file).catch(() => null);
  if (!facts?.isFile() || facts.size < 100) return false;
  const handle = await open(file);
  try {
    const { buffer } = await handle.read(Buffer.alloc(16), 0, 16, 0);
    return buffer.toString('latin1') === 'SQLite format 3\0';
  } finally {
    await handle.close();
  }
}

/** Whether a file is a database that Kenosis made, whole enough to say so. Only read. */
export async function isOwnDatabase(file: string): Promise<boolean> {
  if (!(await isDatabaseFile(file))) return false;
  try {
    return await withConnection(file, 'read', async (connection) => {
      const rows = await rowsOf<{ name: string }>(connection, 'SELECT name FROM migrations');
      return rows.some(({ name }) => name === '001-pieces');
    });
  } catch {
    return false;
  }
}
