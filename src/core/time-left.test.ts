import { expect, it } from 'vitest';
import { timeLeftWords } from './time-left';

it.each([
  [0, 'about 1 s left'],
  [4400, 'about 4 s left'],
  [59_400, 'about 59 s left'],
  [89_000, 'about 1 min left'],
  [3_600_000, 'about 1 h 0 min left'],
  [5_430_000, 'about 1 h 31 min left'],
  [86_400_000 * 3, 'about 3 days left'],
])('says %i ms in words', (ms, words) => expect(timeLeftWords(ms).replaceAll('\u00a0', ' ')).toBe(words));
