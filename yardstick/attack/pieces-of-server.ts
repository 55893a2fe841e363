import { readdir } from 'node:fs/promises';
import path from 'node:path';
import { ask, type TestServer } from '../../tests/browser/server';

/** What the server says of a piece, as far as the campaign looks at it. */
export interface PieceAnswer {
  readonly id: string;
  readonly sha256: string;
  readonly name: string;
  readonly revision: number;
  readonly notes: readonly string[];
}

/** An answer with its status and its JSON, whatever that is; status 0 where none came. */
export interface Answer<T> {
  readonly status: number;
  readonly body: Partial<T> & { readonly code?: string; readonly message?: string; readonly wayOut?: string };
  readonly ms: number;
}

export async function request<T>(
  server: TestServer,
  address: string,
  init: RequestInit = {},
): Promise<Answer<T>> {
  const begun = performance.now();
  try {
    const response = await ask(server, address, init);
    const body = (await response.json().catch(() => ({}))) as Answer<T>['body'];
    return { status: response.status, body, ms: performance.now() - begun };
  } catch {
    return { status: 0, body: {}, ms: performance.now() - begun };
  }
}

export function upload(server: TestServer, name: string, bytes: Uint8Array, query = '') {
  return request<{ piece: PieceAnswer; known: boolean }>(
    server,
    `/api/pieces?name=${encodeURIComponent(name)}${query}`,
    { method: 'POST', body: new Uint8Array(bytes) },
  );
}

export function send<T>(server: TestServer, method: string, address: string, body: unknown) {
  return request<T>(server, address, { method, body: JSON.stringify(body) });
}

export async function piecesOn(server: TestServer): Promise<readonly PieceAnswer[]> {
  return (await request<{ pieces: PieceAnswer[] }>(server, '/api/pieces')).body.pieces ?? [];
}

/** The names of all files below a part of a data folder. */
export async function filesBelow(folder: string, part: string): Promise<string[]> {
  const entries = await readdir(path.join(folder, part), { recursive: true, withFileTypes: true });
  return entries.filter((entry) => entry.isFile()).map(({ name }) => name);
}
