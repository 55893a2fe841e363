import { describe, expect, it } from 'vitest';
import { blotches, disc, paint } from '../../../tests/make/pictures';
import { parseCutText } from '../cut/parse';
import type { Mark } from '../stages/clear/settings';
import { seededRandom } from '../numeric/random';
import { renderCut } from '../render';
import type { Raster } from '../raster/raster';
import { BUSY_REASON } from './busy';
import { propose } from './propose';

type Color = readonly [number, number, number];

/** A navy ring with a hole and a second ring filled with `inner`, on a backdrop. */
function rings(backdrop: (x: number, y: number) => Color, inner: Color = [255, 255, 255], grain = 0): Raster {
  const random = seededRandom(4);
  const soft = (far: number, radius: number) => Math.min(1, Math.max(0, radius + 0.5 - far));
  return paint(320, 200, (x, y) => {
    const one = Math.hypot(x - 110, y - 100);
    const two = Math.hypot(x - 230, y - 100);
    let color: readonly number[] = backdrop(x, y);
    const lay = (over: Color, share: number) => {
      color = color.map((value, c) => value * (1 - share) + over[c]! * share);
    };
    lay([29, 53, 87], soft(one, 60) - soft(one, 25));
    lay([29, 53, 87], soft(two, 50));
    lay(inner, soft(two, 22));
    return color.map((value) => Math.round(Math.min(255, Math.max(0, value + (random() - 0.5) * grain)))) as [
      number,
      number,
      number,
    ];
  });
}

/** Reads alpha of the cutout that a proposal gives. */
function alphaBy(picture: Raster, { cut }: ReturnType<typeof propose>): (x: number, y: number) => number {
  const { data } = renderCut(picture, cut!).raster;
  return (x, y) => data[(y * picture.width + x) * 4 + 3]!;
}

describe('propose', () => {
  it('clears a flat backdrop with the enclosed area of its color, keeps another white, and says so', () => {
    const picture = rings(() => [238, 240, 236]);
    const proposal = propose(picture);
    expect(proposal.kind).toBe('flat');
    expect(proposal.reason).toBe(
      'Off-white all around the frame; 1 enclosed area of the same color cleared.',
    );
    const alphaAt = alphaBy(picture, proposal);
    expect(alphaAt(3, 3)).toBe(0);
    expect(alphaAt(110, 100)).toBe(0);
    expect(alphaAt(230, 100)).toBe(255);
    expect(alphaAt(150, 100)).toBe(255);
  });

  it('says that it is not sure where a wrong answer would matter', () => {
    const ring = (hole: number) =>
      paint(300, 200, (x, y) => {
        const far = Math.hypot(x - 150, y - 100);
        return far < 70 && far >= hole ? [120, 40, 60] : [255, 255, 255];
      });
    expect(propose(ring(30)).reason).toMatch(/\. Not sure about 1 area: please look\.$/);
    expect(propose(ring(6)).reason).not.toContain('Not sure');
  });

  it('keeps a place that is named', () => {
    const picture = rings(() => [238, 240, 236]);
    const proposal = propose(picture, { keep: [{ x: 112, y: 98 }] });
    const alphaAt = alphaBy(picture, proposal);
    expect(alphaAt(110, 100)).toBe(255);
    expect(proposal.reason).toContain('1 kept because you asked for it');
  });

  it('clears a gradient and a vignette with grain', () => {
    const gradient = rings((x, y) => [180 + 0.2 * x, 120 + 0.4 * y, 200 - 0.2 * x], [255, 255, 255], 4);
    const found = propose(gradient);
    expect(found.kind).toBe('gradient');
    expect(found.reason).toMatch(
      /^A smooth gradient all around the frame; 1 enclosed area of the same backdrop cleared/,
    );
    const alphaAt = alphaBy(gradient, found);
    for (const [x, y] of [
      [2, 2],
      [317, 197],
      [110, 100],
    ] as const)
      expect(alphaAt(x, y)).toBe(0);
    const vignette = rings((x, y) => {
      const light = 1 - (0.12 * (((x - 160) / 160) ** 2 + ((y - 100) / 100) ** 2)) / 2;
      return [245 * light, 244 * light, 240 * light];
    });
    const other = propose(vignette);
    expect(other.kind).toBe('flat');
    expect(other.reason).toContain('lit a little unevenly');
    const otherAlphaAt = alphaBy(vignette, other);
    expect(otherAlphaAt(316, 3)).toBe(0);
  });

  it('clears a soft shadow with the backdrop', () => {
    const picture = rings((x, y) => {
      const light = 1 - 0.35 * Math.exp(-(((x - 110) / 70) ** 2) - ((y - 172) / 16) ** 2);
      return [240 * light, 238 * light, 234 * light];
    });
    const proposal = propose(picture);
    expect(proposal.reason).toContain('a soft shadow cleared with it');
    const alphaAt = alphaBy(picture, proposal);
    expect(alphaAt(110, 172)).toBe(0);
    expect(alphaAt(70, 100)).toBe(255);
  });

  it('clears a painted-in checkerboard, also inside of a hole, and keeps a white part', () => {
    const cell = 11.6;
    const picture = rings((x, y) => {
      const even = (Math.floor((x + 3) / cell) + Math.floor((y + 5) / cell)) % 2 === 0;
      return even ? [255, 255, 255] : [204, 204, 204];
    });
    const proposal = propose(picture);
    expect(proposal.kind).toBe('pattern');
    expect(proposal.reason).toMatch(
      /^A painted-in checkerboard all around; 1 enclosed area of the same backdrop cleared/,
    );
    const alphaAt = alphaBy(picture, proposal);
    expect(alphaAt(4, 4)).toBe(0);
    expect(alphaAt(16, 4)).toBe(0);
    expect(alphaAt(110, 100)).toBe(0);
    expect(alphaAt(230, 100)).toBe(255);
  });

  it('proposes nothing for a busy frame and says what to try', () => {
    const { kind, cut, reason } = propose(blotches(200, 150, 3));
    expect({ kind, cut }).toEqual({ kind: 'busy', cut: null });
    expect(reason).toBe(BUSY_REASON);
  });

  it('decides a busy picture by marks, and not by those of one side', () => {
    const width = 240;
    const inside = (x: number, y: number) => Math.hypot(x - 120, y - 90) < 50;
    const busy = blotches(width, 180, 3);
    const picture = paint(width, 180, (x, y) => {
      const p = (y * width + x) * 4;
      return inside(x, y) ? [220, 40, 60] : [busy.data[p]! >> 1, busy.data[p + 1]!, busy.data[p + 2]!];
    });
    const mark = (goes: boolean, ...points: [number, number][]): Mark => ({ goes, radiusPx: 4, points });
    const goes = mark(true, [10, 10], [230, 10], [230, 170], [10, 170], [10, 10]);
    const stays = mark(false, [100, 90], [140, 90]);
    const proposal = propose(picture, { marks: [goes, stays], method: 'color' });
    expect(proposal.kind).toBe('busy');
    let wrong = 0;
    const { data } = renderCut(picture, proposal.cut!).raster;
    for (let y = 0; y < 180; y++)
      for (let x = 0; x < width; x++)
        if (Math.abs(Math.hypot(x - 120, y - 90) - 50) > 3)
          if (data[(y * width + x) * 4 + 3]! > 127 !== inside(x, y)) wrong++;
    expect(wrong).toBeLessThan(0.002 * width * 180);
    expect(propose(picture, { marks: [goes], method: 'color' }).cut).toBeNull();
  });

  it('leaves a picture that is transparent at its frame as it is', () => {
    const picture = disc(100, 30);
    for (let i = 0; i < 100 * 100; i++) {
      if (Math.hypot((i % 100) - 49.5, Math.floor(i / 100) - 49.5) > 33) picture.data[i * 4 + 3] = 0;
    }
    const { kind, cut, reason } = propose(picture);
    expect({ kind, cut }).toEqual({ kind: 'transparent', cut: null });
    expect(reason).toContain('its own alpha is the starting point');
  });

  it('gives the same cut for the same picture, and one that can be read back', () => {
    const picture = rings(() => [238, 240, 236], [255, 255, 255], 5);
    const text = JSON.stringify(propose(picture).cut);
    expect(JSON.stringify(propose(picture).cut)).toBe(text);
    expect(JSON.stringify(parseCutText(text))).toBe(text);
  });

  it('finds the same in a picture that it has to reduce', () => {
    const small = rings(() => [238, 240, 236]);
    const large = paint(1600, 1000, (x, y) => {
      const p = (Math.floor(y / 5) * 320 + Math.floor(x / 5)) * 4;
      return [small.data[p]!, small.data[p + 1]!, small.data[p + 2]!];
    });
    const proposal = propose(large);
    expect(proposal.reason).toBe(propose(small).reason);
    const alphaAt = alphaBy(large, proposal);
    expect(alphaAt(550, 500)).toBe(0);
    expect(alphaAt(1150, 500)).toBe(255);
  });
});
