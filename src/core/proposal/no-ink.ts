import { KenosisError } from '../errors';
import type { NoInk } from './ink';

/** Why there is no ink to be cleared by, and what to do. */
const NO_INK: Readonly<Record<NoInk, string>> = {
  'too small':
    'The picture is under 32 pixels wide or high: too small to tell ink from paper. Scan or save it larger.',
  blank:
    'The page is blank: nothing on it is dark enough to be ink. Scan the written side, or with more contrast.',
  solid:
    'The page is dark all over: no bare paper is seen to tell ink from. Scan it with some paper around the ink.',
  dark: 'The ground is too dark for paper. Clear it by color instead.',
  colored: 'The ground is too strongly colored for paper. Clear it by color instead.',
  patchy: 'The ground changes its color from place to place: that is no paper. Clear it by color instead.',
  pure: 'The ground is pure white, as drawn pictures have it. Clear it by color instead.',
  broad:
    'What is dark is broad or covers much of the picture: that is no writing. Clear it by color instead.',
  'many hues': 'What is dark has several colors: that is not one ink. Clear it by color instead.',
  photo:
    'Most of the picture lies between dark and light: that looks like a photo, not like ink on paper. Clear it by color instead.',
};

/** The error for somebody who asked for ink where there is none. */
export function noInk(why: NoInk): KenosisError {
  return new KenosisError('no-ink', `No ink was cleared and nothing was written. ${NO_INK[why]}`);
}
