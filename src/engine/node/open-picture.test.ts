import path from 'node:path';
import { gzipSync } from 'node:zlib';
import { afterEach, expect, it } from 'vitest';
import { put } from '../../../tests/make/files';
import { freshFolder } from '../../../tests/make/folder';
import { newSample } from '../../core/cut/new-sample';
import { untouchedCut } from '../../core/cut/parse';
import type { Cut } from '../../core/cut/schema';
import { KeptDecisions } from '../../core/decision/kept-decisions';
import { readHead } from '../../core/numeric/head-bytes';
import { OpenPicture } from './open-picture';

const picture = new OpenPicture();
afterEach(() => picture.close());

const demo = (name: string) => path.resolve('demo/pictures', name);
const open = (name: string, cut: Cut, decisionsPath: string | null = null) =>
  picture.board({ originalPath: demo(name), originalName: name, cut, decisionsPath });
const sampled: Cut = {
  ...untouchedCut(),
  clear: { ...untouchedCut().clear, samples: [newSample('s1', 3, 3)] },
};
const turned: Cut = { ...sampled, prepare: { ...sampled.prepare, turn: 90 } };

it('begins where the task before ended, on the same picture prepared the same', async () => {
  const first = await open('ostrel-emblem.png', untouchedCut());
  expect(await open('ostrel-emblem.png', sampled)).toBe(first);
  const other = await open('ostrel-emblem.png', turned);
  expect(other === first).toBe(false);
  expect(other.original).toBe(first.original);
});

it('closes a picture when another one is opened, or when it is told to', async () => {
  const first = await open('ostrel-emblem.png', sampled);
  const { original } = await open('ostrel-sticker.jpg', sampled);
  expect(original.width).toBe(1000);
  // Compared here: a matcher would read all their pixels to say how two pictures differ.
  const again = await open('ostrel-emblem.png', sampled);
  expect(again.original === first.original).toBe(false);
});

it('refuses what is no picture, and opens the next one', async () => {
  await expect(open('pieces.json', sampled)).rejects.toMatchObject({ code: expect.any(String) as string });
  expect((await open('ostrel-sticker.jpg', sampled)).original.height).toBe(1000);
});

it('keeps apart what was decided of two pieces of one original, and reads what came meanwhile', async () => {
  const folder = await freshFolder();
  const kept = async (name: string, entries: readonly string[]) => {
    const decisions = new KeptDecisions();
    for (const entry of entries) decisions.take(entry, null);
    return put(folder, name, gzipSync(decisions.pack(9)));
  };
  const countOf = async (path: string) =>
    readHead((await open('ostrel-emblem.png', sampled, path)).decisions!.pack(9), 'kept').head;
  const [one, other] = [await kept('one', ['a']), await kept('other', ['b'])];
  expect(await countOf(one)).toMatchObject([['a', 8]]);
  expect(await countOf(other)).toMatchObject([['b', 8]]);
  await kept('other', ['b', 'c']);
  expect(await countOf(other)).toMatchObject([
    ['b', 8],
    ['c', 8],
  ]);
});
