import { describe, expect, it } from 'vitest';
import { paint } from '../../../../tests/make/pictures';
import { newSample } from '../../cut/new-sample';
import { untouchedCut } from '../../cut/parse';
import type { Cut } from '../../cut/schema';
import { seededRandom } from '../../numeric/random';
import { runToEnd } from '../../numeric/steps';
import type { Raster } from '../../raster/raster';
import { renderCut, renderPart, renderScene, strokesThatAct } from '../../render';
import { halvedScene, sceneOf } from '../../scene/scene';
import { Kept } from '../kept';
import type { HandStroke, StrokeOf } from './settings';

const SIDE = 160;

/** A red square with a soft rim of half a pixel on each side, a hole of a paler red in it, and a blue bar, before gray. */
const picture = paint(SIDE, SIDE, (x, y) => {
  const mix = (inside: number, color: readonly number[]) => {
    const share = Math.min(1, Math.max(0, inside + 0.5));
    return color.map((own) => Math.round(own * share + 200 * (1 - share)));
  };
  const square = Math.min(x - 40.2, 119.7 - x, y - 40.2, 119.7 - y);
  if (square > -1) {
    const [red, green, blue] = mix(square, Math.hypot(x - 80, y - 80) < 14 ? [190, 120, 110] : [150, 30, 40]);
    return [red!, green!, blue!];
  }
  const [red, green, blue] = mix(Math.min(x - 20.5, 139.5 - x, y - 139.5, 149.5 - y), [30, 40, 160]);
  return [red!, green!, blue!];
});

const brush = (
  does: 'clear' | 'restore',
  path: string,
  more: Partial<StrokeOf<'brush'>> = {},
): StrokeOf<'brush'> => ({
  kind: 'brush',
  does,
  radiusPx: 8,
  softness: 0,
  strength: 100,
  pressure: 'none',
  alike: null,
  path,
  ...more,
});

const area = (
  does: StrokeOf<'area'>['does'],
  corners: string,
  more: Partial<StrokeOf<'area'>> = {},
): HandStroke => ({
  kind: 'area',
  does,
  shape: 'outline',
  corners,
  offsetPx: 0,
  softnessPx: 0,
  ...more,
});

/** The gray is cleared, and then what a hand did. */
const cleared: Cut = {
  ...untouchedCut(),
  clear: {
    ...untouchedCut().clear,
    samples: [{ ...newSample('s1', 4, 4), rule: 'tolerance', tolerance: 10 }],
  },
};
const touched = (...strokes: HandStroke[]): Cut => ({
  ...cleared,
  touchUp: { ...cleared.touchUp, strokes },
});
/** Nothing is cleared: all of the picture is there. */
const onAll = (...strokes: HandStroke[]): Cut => ({ ...touched(...strokes), clear: untouchedCut().clear });
/** Everything is cleared but what a hand brings back. */
const onNothing = (...strokes: HandStroke[]): Cut => ({
  ...touched(...strokes),
  clear: {
    ...cleared.clear,
    samples: [{ ...cleared.clear.samples[0]!, tolerance: 100, reach: 'everywhere' }],
  },
});

const rendered = (cut: Cut, of = picture) => renderCut(of, cut).raster;
const at = ({ width, data }: Raster, x: number, y: number) => [
  ...data.subarray((y * width + x) * 4, (y * width + x) * 4 + 4),
];
const alphaAt = (raster: Raster, x: number, y: number) => at(raster, x, y)[3]!;
/** How many pixels differ. */
function different(one: Raster, other: Raster): number {
  let count = 0;
  for (let p = 0; p < one.data.length; p += 4)
    if ([0, 1, 2, 3].some((c) => one.data[p + c] !== other.data[p + c])) count++;
  return count;
}

describe('a clearing brush', () => {
  it('clears where it went, at its strength', () => {
    const half = rendered(onAll(brush('clear', '80,80', { strength: 50 })));
    expect(alphaAt(half, 80, 80)).toBe(128);
    expect(alphaAt(half, 80, 100)).toBe(255);
    expect(alphaAt(rendered(onAll(brush('clear', '80,80'))), 80, 80)).toBe(0);
  });

  it.each([0, 30, 100])('leaves no veil where its core went, with softness %i', (softness) => {
    const strokes = [brush('clear', '30,30 110,60 50,130', { radiusPx: 14, softness })];
    const made = rendered(onAll(...strokes));
    let veil = 0;
    for (let p = 3; p < made.data.length; p += 4) if (made.data[p]! > 0 && made.data[p]! < 8) veil++;
    expect(veil).toBe(0);
    expect(alphaAt(made, 30, 30)).toBe(0);
  });

  it('adds nothing up where it crosses itself, but a second stroke does', () => {
    const across = '40,80 120,80 80,40 80,120';
    expect(alphaAt(rendered(onAll(brush('clear', across, { strength: 50 }))), 80, 80)).toBe(128);
    const twice = onAll(brush('clear', '80,80', { strength: 50 }), brush('clear', '80,80', { strength: 50 }));
    expect(alphaAt(rendered(twice), 80, 80)).toBe(64);
  });

  it('does nothing outside of the picture, and stays within it', () => {
    const far = rendered(onAll(brush('clear', '-900,-900 -500,-900')));
    expect(different(far, rendered(onAll()))).toBe(0);
    expect(alphaAt(rendered(onAll(brush('clear', '-20,80 3,80'))), 0, 80)).toBe(0);
  });
});

describe('a brush that brings back', () => {
  it('returns the original’s pixels', () => {
    const made = rendered(onNothing(brush('restore', '60,60')));
    expect(at(made, 60, 60)).toEqual([150, 30, 40, 255]);
    expect(alphaAt(made, 80, 60)).toBe(0);
  });

  it('lays alpha with its strength, never paint', () => {
    expect(at(rendered(onNothing(brush('restore', '60,60', { strength: 40 }))), 60, 60)).toEqual([
      150, 30, 40, 102,
    ]);
  });

  it('brings no old background back along the subject’s border', () => {
    // Along the left border of the square, over it by two pixels.
    const made = rendered(onNothing(brush('restore', '46,60 46,100')));
    let gray = 0;
    let partly = 0;
    for (let y = 62; y < 98; y++)
      for (let x = 34; x < 46; x++) {
        const [red, green, blue, alpha] = at(made, x, y);
        if (alpha === 0) continue;
        if (alpha! < 255) partly++;
        if (Math.abs(red! - 150) + Math.abs(green! - 30) + Math.abs(blue! - 40) > 24) gray++;
      }
    expect(gray).toBe(0);
    expect(partly).toBeGreaterThan(20);
    expect(alphaAt(made, 39, 80)).toBe(0);
    expect(alphaAt(made, 42, 80)).toBe(255);
  });

  it('brings none back where everything was cleared by hand before', () => {
    const box = (does: 'clear' | 'restore', far: number) =>
      area(does, `${far},${far} ${SIDE - far},${far} ${SIDE - far},${SIDE - far} ${far},${SIDE - far}`);
    const made = rendered(onAll(box('clear', -9), box('restore', 38)));
    let gray = 0;
    for (let y = 60; y < 100; y++)
      for (let x = 30; x < 48; x++) {
        const [red, green, blue, alpha] = at(made, x, y);
        if (alpha! > 0 && Math.abs(red! - 150) + Math.abs(green! - 30) + Math.abs(blue! - 40) > 24) gray++;
      }
    expect(gray).toBe(0);
    expect(alphaAt(made, 38, 80)).toBe(0);
    expect(alphaAt(made, 44, 80)).toBe(255);
  });

  it('leaves what is there as it is', () => {
    const before = rendered(touched());
    const after = rendered(touched(brush('restore', '60,60 100,100')));
    expect(different(before, after)).toBe(0);
  });

  it('undoes a clearing stroke before it, and not one behind it', () => {
    const gone = brush('clear', '60,60');
    const back = brush('restore', '60,60', { radiusPx: 5 });
    expect(alphaAt(rendered(touched(gone, back)), 60, 60)).toBe(255);
    expect(alphaAt(rendered(touched(back, gone)), 60, 60)).toBe(0);
  });
});

describe('a brush that takes only what is alike', () => {
  const alike = { tolerance: 8, reads: 'start' } as const;

  it('clears what has the color it began on, and nothing of others', () => {
    const made = rendered(onAll(brush('clear', '30,80 44,80', { radiusPx: 12, alike })));
    expect(alphaAt(made, 30, 80)).toBe(0);
    expect(alphaAt(made, 38, 76)).toBe(0);
    expect(alphaAt(made, 46, 80)).toBe(255);
    expect(at(made, 46, 80).slice(0, 3)).toEqual([150, 30, 40]);
  });

  it('un-mixes the rim of what it takes', () => {
    const made = rendered(onAll(brush('clear', '34,60 34,100', { radiusPx: 12, alike })));
    for (let y = 66; y < 94; y++) {
      const [red, green, blue, alpha] = at(made, 40, y);
      expect(alpha).toBeGreaterThan(20);
      expect(alpha).toBeLessThan(235);
      expect(Math.abs(red! - 150) + Math.abs(green! - 30) + Math.abs(blue! - 40)).toBeLessThan(24);
    }
  });

  it('takes only what hangs together with its line', () => {
    // Behind the blue bar there is gray too, which the line does not reach.
    const made = rendered(onAll(brush('clear', '80,134', { radiusPx: 24, alike })));
    expect(alphaAt(made, 80, 134)).toBe(0);
    expect(alphaAt(made, 80, 153)).toBe(255);
    expect(alphaAt(rendered(onAll(brush('clear', '80,134', { radiusPx: 24 }))), 80, 153)).toBe(0);
  });

  it('reads its color again along the line, where it is told to', () => {
    const path = '80,134 80,144 80,154';
    const start = rendered(onAll(brush('clear', path, { radiusPx: 6, alike })));
    expect(alphaAt(start, 80, 144)).toBe(255);
    const along = rendered(onAll(brush('clear', path, { radiusPx: 6, alike: { ...alike, reads: 'along' } })));
    expect(alphaAt(along, 80, 144)).toBe(0);
    expect(alphaAt(along, 80, 154)).toBe(0);
  });

  it('brings back what is alike, and nothing of others', () => {
    const made = rendered(onNothing(brush('restore', '46,60 46,100', { radiusPx: 14, alike })));
    expect(at(made, 46, 80)).toEqual([150, 30, 40, 255]);
    expect(alphaAt(made, 37, 80)).toBe(0);
    expect(alphaAt(made, 40, 80)).toBeGreaterThan(20);
    expect(alphaAt(made, 40, 80)).toBeLessThan(235);
  });
});

describe('outlined areas', () => {
  const box = '50,50 110,50 110,110 50,110';

  it('clear, and bring back', () => {
    expect(alphaAt(rendered(onAll(area('clear', box))), 80, 80)).toBe(0);
    expect(alphaAt(rendered(onAll(area('clear', box))), 45, 80)).toBe(255);
    expect(alphaAt(rendered(onNothing(area('restore', box))), 80, 80)).toBe(255);
    expect(alphaAt(rendered(onNothing(area('restore', box))), 45, 80)).toBe(0);
  });

  it('are rectangles and ellipses too', () => {
    const made = rendered(onAll(area('clear', '50,50 110,110', { shape: 'ellipse' })));
    expect(alphaAt(made, 52, 52)).toBe(255);
    expect(alphaAt(made, 80, 51)).toBe(0);
    const rectangle = rendered(onAll(area('clear', '50,50 110,110', { shape: 'rectangle' })));
    expect(different(rectangle, rendered(onAll(area('clear', box))))).toBe(0);
  });

  it('keep all stages within them, several together, or out of them', () => {
    const only = rendered(
      touched(area('only', '0,0 30,0 30,160 0,160'), area('only', '130,0 160,0 160,60 130,60')),
    );
    expect(alphaAt(only, 10, 80)).toBe(0);
    expect(alphaAt(only, 150, 30)).toBe(0);
    expect(at(only, 80, 20)).toEqual([200, 200, 200, 255]);
    const never = rendered(touched(area('never', '0,0 30,0 30,160 0,160')));
    expect(at(never, 10, 80)).toEqual([200, 200, 200, 255]);
    expect(alphaAt(never, 80, 20)).toBe(0);
  });
});

describe('other strokes', () => {
  it('make an edge softer, firmer, and only where they went', () => {
    const before = rendered(touched());
    const edge = (does: 'softer' | 'firmer'): HandStroke => ({
      kind: 'edge',
      does,
      radiusPx: 12,
      softness: 0,
      strength: 100,
      pressure: 'none',
      path: '40,60 40,80',
    });
    const partly = (raster: Raster, y: number) =>
      Array.from({ length: 30 }, (_, x) => alphaAt(raster, 25 + x, y)).filter((a) => a > 4 && a < 251).length;
    const [soft, firm] = [rendered(touched(edge('softer'))), rendered(touched(edge('firmer')))];
    expect(partly(soft, 70)).toBeGreaterThan(partly(before, 70) + 2);
    expect(partly(firm, 70)).toBeLessThan(partly(before, 70));
    expect(partly(soft, 110)).toBe(partly(before, 110));
  });

  it('keep one piece, several, or clear one', () => {
    const pick = (does: 'keep' | 'clear', x: number, y: number): HandStroke => ({
      kind: 'island',
      does,
      x,
      y,
    });
    const kept = rendered(touched(pick('keep', 80, 60)));
    expect([alphaAt(kept, 60, 60), alphaAt(kept, 80, 144)]).toEqual([255, 0]);
    const both = rendered(touched(pick('keep', 80, 60), pick('keep', 80, 144)));
    expect(different(both, rendered(touched()))).toBe(0);
    const gone = rendered(touched(pick('clear', 80, 60)));
    expect([alphaAt(gone, 60, 60), alphaAt(gone, 80, 144)]).toEqual([0, 255]);
    expect(different(rendered(touched(pick('keep', 4, 4))), rendered(touched()))).toBe(0);
  });

  it('close a gap in a color, as wide as its ends', () => {
    const made = rendered(
      touched({
        kind: 'gap',
        does: 'close',
        path: '10,20 60,20',
        widthPx: 4,
        endWidthPx: 12,
        color: '#1d2a6b',
      }),
    );
    expect(at(made, 12, 20)).toEqual([0x1d, 0x2a, 0x6b, 255]);
    expect([alphaAt(made, 12, 24), alphaAt(made, 58, 24)]).toEqual([0, 255]);
  });

  it('thicken and thin everything', () => {
    const opaque = (cut: Cut) => renderCut(picture, cut).alpha.opaque;
    const weighed = (weightPx: number): Cut => ({ ...cleared, touchUp: { ...cleared.touchUp, weightPx } });
    expect(opaque(weighed(2))).toBeGreaterThan(opaque(cleared));
    expect(opaque(weighed(-2))).toBeLessThan(opaque(cleared));
  });
});

describe('strokes together', () => {
  const random = seededRandom(21);
  const place = () => `${(random() * 180 - 10).toFixed(1)},${(random() * 180 - 10).toFixed(1)}`;
  const path = (count: number) => Array.from({ length: count }, place).join(' ');
  const strokes: HandStroke[] = Array.from({ length: 40 }, (_, k) =>
    k % 9 === 5
      ? area(k % 2 ? 'clear' : 'restore', path(5), { softnessPx: k % 4, offsetPx: 1 - (k % 3) })
      : brush(k % 2 ? 'clear' : 'restore', path(1 + (k % 4)), {
          radiusPx: 3 + random() * 9,
          softness: (k * 37) % 101,
          strength: 30 + ((k * 13) % 71),
          alike: k % 5 === 0 ? { tolerance: 14, reads: k % 10 === 0 ? 'start' : 'along' } : null,
        }),
  );
  strokes.push(
    area('never', '10,10 40,12 30,50'),
    area('only', '5,5 150,5 150,150 5,150', { softnessPx: 5 }),
    {
      kind: 'edge',
      does: 'softer',
      radiusPx: 9,
      softness: 50,
      strength: 80,
      pressure: 'none',
      path: path(3),
    },
    { kind: 'edge', does: 'spill', radiusPx: 9, softness: 50, strength: 80, pressure: 'none', path: path(3) },
    { kind: 'gap', does: 'close', path: path(2), widthPx: 3, endWidthPx: 5, color: '#204060' },
  );
  const cut = touched(...strokes);

  it('are in any part what they are in the whole, also at half the size', () => {
    for (const scene of [sceneOf(picture), halvedScene(sceneOf(picture))]) {
      const whole = runToEnd(renderScene(scene, cut, new Kept(0))).raster;
      const { width, height } = scene.raster;
      let wrong = 0;
      for (let k = 0; k < 14; k++) {
        const [x, y] = [Math.floor(random() * (width - 9)), Math.floor(random() * (height - 9))];
        const rect = { x, y, width: 1 + Math.floor(random() * 50), height: 1 + Math.floor(random() * 50) };
        const kept = new Kept(1 << 24);
        runToEnd(renderScene(scene, { ...cut, touchUp: cleared.touchUp }, kept));
        const part = renderPart(scene, cut, kept, rect)!;
        for (let v = 0; v < part.height; v++)
          for (let u = 0; u < part.width; u++)
            if (at(part, u, v).join() !== at(whole, x + u, y + v).join()) wrong++;
      }
      expect(wrong).toBe(0);
    }
  });

  it('give the same one more at a time as all at once', () => {
    const kept = new Kept(1 << 24);
    const scene = sceneOf(picture);
    const rect = { x: 20, y: 20, width: 100, height: 90 };
    runToEnd(renderScene(scene, cleared, kept));
    let wrong = 0;
    for (const count of [14, 15, 16, 17, 18, 33, 34, 45]) {
      const some = touched(...strokes.slice(0, count));
      const led = renderPart(scene, some, kept, rect)!;
      const fresh = new Kept(1 << 24);
      runToEnd(renderScene(scene, cleared, fresh));
      wrong += different(led, renderPart(scene, some, fresh, rect)!);
    }
    expect(wrong).toBe(0);
  });

  it('do not depend on how many there are, nor on those that lie elsewhere', () => {
    const whole = rendered(cut);
    for (const count of [1, 7, 12]) {
      const elsewhere = Array.from({ length: count }, () => brush('clear', '-900,-900'));
      expect(different(rendered(touched(...elsewhere, ...strokes)), whole)).toBe(0);
    }
  });

  it('are the same in a crop as in the whole', () => {
    const crop = { x: 47, y: 33, width: 60, height: 71 };
    const picked = touched(...strokes.slice(0, 40), { kind: 'island', does: 'keep', x: 80, y: 60 });
    for (const one of [touched(...strokes.slice(0, 40)), picked]) {
      const whole = rendered(one);
      const cropped = rendered({ ...one, prepare: { ...one.prepare, crop } });
      let wrong = 0;
      for (let y = 0; y < crop.height; y++)
        for (let x = 0; x < crop.width; x++)
          if (at(cropped, x, y).join() !== at(whole, x + crop.x, y + crop.y).join()) wrong++;
      expect(wrong).toBe(0);
    }
  });

  it('lie on the original wherever it is turned', () => {
    const turned: Cut = { ...cut, prepare: { ...cut.prepare, turn: 90 } };
    const picks = (c: Cut) => ({
      ...c,
      touchUp: { ...c.touchUp, strokes: [brush('clear', '60,100 60,140')] },
    });
    const upright = rendered(picks(onAll()));
    const lying = rendered(picks({ ...onAll(), prepare: turned.prepare }));
    let wrong = 0;
    for (let y = 0; y < SIDE; y++)
      for (let x = 0; x < SIDE; x++) if (alphaAt(upright, x, y) !== alphaAt(lying, SIDE - 1 - y, x)) wrong++;
    expect(wrong).toBe(0);
  });
});

describe('strokes that act', () => {
  it('are told from those that change nothing any more', () => {
    const cut = touched(
      brush('clear', '60,60'),
      brush('clear', '60,60', { radiusPx: 4 }),
      brush('restore', '90,90'),
      brush('clear', '10,10'),
      area('clear', '60,70 90,70 90,100 60,100'),
      brush('clear', '-500,20'),
    );
    const scene = sceneOf(picture);
    const edge: StrokeOf<'edge'> = {
      kind: 'edge',
      does: 'softer',
      radiusPx: 9,
      softness: 0,
      strength: 100,
      pressure: 'none',
      path: '40,90',
    };
    const others = touched(
      edge,
      { ...edge, path: '100,100' },
      area('never', '0,0 20,0 20,20 0,20'),
      area('never', '90,90 99,90 99,99 90,99'),
      { kind: 'island', does: 'clear', x: 80, y: 144 },
      { kind: 'island', does: 'clear', x: 3, y: 80 },
    );
    expect([...runToEnd(strokesThatAct(scene, others, new Kept(1 << 24)))].sort()).toEqual([0, 2, 4]);
    const kept = new Kept(1 << 24);
    expect([...runToEnd(strokesThatAct(scene, cut, kept))].sort()).toEqual([0, 4]);
    runToEnd(renderScene(scene, cut, kept));
    expect([...runToEnd(strokesThatAct(scene, cut, kept))].sort()).toEqual([0, 4]);
  });
});
