import { expect, it } from 'vitest';
import { lossWords } from './loss-words';

const none = { largest: 0, mean: 0 };

it.each([
  ['png', none, none, 1, 'Every pixel exact.'],
  ['png', none, none, 2.04, 'Every pixel exact. Enlarged 2 times.'],
  ['webp', { largest: 9, mean: 1.26 }, none, 0.5, 'Color off by 1.3 of 255 in the mean, alpha exact.'],
  [
    'avif',
    { largest: 2, mean: 0.01 },
    { largest: 1, mean: 0.001 },
    1,
    'Color off by under 0.1 of 255 in the mean, alpha by under 0.01.',
  ],
  ['jpeg', { largest: 30, mean: 2 }, none, 1, 'Color off by 2 of 255 in the mean.'],
  ['svg', none, { largest: 40, mean: 0.45 }, 1, 'Color exact, alpha by 0.45.'],
])('%s: says what is lost, and no more', (format, color, alpha, scale, words) => {
  expect(lossWords(format, { color, alpha, scale })).toBe(words);
});
