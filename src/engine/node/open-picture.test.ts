import path from 'node:path';
import { afterEach, expect, it } from 'vitest';
import { newSample } from '../../core/cut/new-sample';
import { untouchedCut } from '../../core/cut/parse';
import type { Cut } from '../../core/cut/schema';
import { OpenPicture } from './open-picture';

const picture = new OpenPicture();
afterEach(() => picture.close());

const demo = (name: string) => path.resolve('demo/pictures', name);
const open = (name: string, cut: Cut) =>
  picture.board({ originalPath: demo(name), originalName: name, cut, decisionsPath: null });
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
