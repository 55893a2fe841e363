import { describe, expect, it } from 'vitest';
import { fit, panBy, pixelUnder, SCALE, zoomAt } from './placement';

const picture = { width: 1600, height: 640 };
const screen = { width: 800, height: 600 };

describe('fit', () => {
  it('shows the whole picture in the middle', () => {
    const view = fit(picture, screen);
    expect(view.scale).toBeCloseTo(752 / 1600);
    expect(view.left).toBe(24);
    expect(view.top).toBe(Math.round((600 - 640 * view.scale) / 2));
  });

  it('does not blow small pictures up', () => {
    expect(fit({ width: 20, height: 20 }, screen).scale).toBe(1);
  });
});

describe('zoomAt', () => {
  it('keeps the pixel under the pointer there', () => {
    const view = fit(picture, screen);
    for (const scale of [0.1, 1, 4, 7.3]) {
      const before = { x: (300 - view.left) / view.scale, y: (200 - view.top) / view.scale };
      const next = zoomAt(view, 300, 200, scale);
      expect(Math.abs(before.x * next.scale + next.left - 300)).toBeLessThanOrEqual(0.5);
      expect(Math.abs(before.y * next.scale + next.top - 200)).toBeLessThanOrEqual(0.5);
    }
  });

  it('stays within its limits', () => {
    const view = fit(picture, screen);
    expect(zoomAt(view, 0, 0, 1000).scale).toBe(SCALE.max);
    expect(zoomAt(view, 0, 0, 0).scale).toBe(SCALE.min);
  });
});

describe('panBy', () => {
  it('moves the sheet and never loses it', () => {
    const view = fit(picture, screen);
    expect(panBy(view, 10, -5, picture)).toMatchObject({ left: view.left + 10, top: view.top - 5 });
    const lost = panBy(view, 1e6, -1e6, picture);
    expect(lost.left).toBeLessThan(800);
    expect(lost.top + picture.height * lost.scale).toBeGreaterThan(0);
  });
});

describe('pixelUnder', () => {
  it('is the inverse of the placement', () => {
    const view = { scale: 4, left: 40, top: -80, width: 800, height: 600 };
    expect(pixelUnder(view, 40, 0)).toEqual({ x: 0, y: 20 });
    expect(pixelUnder(view, 43.9, 3.9)).toEqual({ x: 0, y: 20 });
    expect(pixelUnder(view, 39, 0).x).toBe(-1);
  });
});
