import type { AreaReason } from './area';

/** Why an enclosed area stays, in words for one and for several; what goes needs no words. */
export const WHY_STAYS: Readonly<Partial<Record<AreaReason, readonly [string, string]>>> = {
  told: ['you asked for it', 'you asked for them'],
  'off-pattern': ['the pattern does not go on in it', 'the pattern does not go on in them'],
  'other-color': ['its color differs from the background', 'their color differs from the background'],
  'soft-rim': ['its rim is soft, like a shine', 'their rims are soft, like a shine'],
  'holds-parts': ['it holds parts of its own', 'they hold parts of their own'],
  shaded: ['shade lies on it', 'shade lies on them'],
  within: ['it lies within one that stays', 'they lie within some that stay'],
  twin: ['it has the size and place of one that stays', 'they have the size and place of some that stay'],
  solid: ['it is a small part of a solid shape', 'they are small parts of a solid shape'],
  unmarked: ['it is like what is marked on either side', 'they are like what is marked on either side'],
  alike: ['it looks like the background', 'they look like the background'],
  shade: ['it could be the shade of the background', 'they could be shades of the background'],
};
