import { afterEach, describe, expect, it, vi } from 'vitest';
import { scan, type ScanState, type ScanWish } from './scan';

const WISH: ScanWish = { sheet: 'letter', mode: 'gray', dpi: 150, lid: 'closed', format: 'png' };

/** What is told when the scanner answers with these pieces of text. */
async function told(
  answer: () => Promise<Response>,
  signal = new AbortController().signal,
): Promise<ScanState[]> {
  vi.stubGlobal('fetch', answer);
  const states: ScanState[] = [];
  await scan(WISH, signal, (state) => states.push(state));
  return states;
}

const streamed = (...pieces: string[]) =>
  Promise.resolve(
    new Response(
      new ReadableStream({
        start(controller) {
          for (const piece of pieces) controller.enqueue(new TextEncoder().encode(piece));
          controller.close();
        },
      }),
    ),
  );

afterEach(() => vi.unstubAllGlobals());

describe('scan', () => {
  it('tells progress and the piece, wherever lines are broken', async () => {
    const states = await told(() =>
      streamed(
        '{"progress":{"step":"scanning","per',
        'cent":40}}\n{"progress":{"step":"importing","percent":0}}\n',
        '{"imported":{"piece":{"id":"a"}}}\n',
      ),
    );
    expect(states).toEqual([
      { kind: 'busy', words: 'Scanning, 40 %', percent: 40, cancellable: true },
      { kind: 'busy', words: 'Bringing it to the Shelf', percent: 100, cancellable: false },
      { kind: 'done', piece: { id: 'a' } },
    ]);
  });

  it('tells why it was refused, and when it broke off or was cancelled', async () => {
    expect(await told(() => streamed('{"refused":{"message":"No room."}}\n'))).toEqual([
      { kind: 'refused', message: 'No room.' },
    ]);
    expect(
      (await told(() => streamed('{"progress":{"step":"scanning","percent":9}}\n'))).at(-1),
    ).toMatchObject({
      kind: 'refused',
      message: 'The scan broke off. Nothing was imported; scan again.',
    });
    const refusal = () => Promise.resolve(Response.json({ message: 'body.dpi: wrong' }, { status: 400 }));
    expect(await told(refusal)).toEqual([{ kind: 'refused', message: 'body.dpi: wrong' }]);
    const offline = () => Promise.reject(new TypeError('fetch failed'));
    expect((await told(offline))[0]).toMatchObject({
      message: 'Kenosis does not answer. Start it again and scan once more.',
    });
    expect((await told(offline, AbortSignal.abort()))[0]).toMatchObject({
      message: 'The scan was cancelled. Nothing was imported.',
    });
  });
});
