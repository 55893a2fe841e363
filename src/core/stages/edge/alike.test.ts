import { describe, expect, it } from 'vitest';
import { paint } from '../../../../tests/make/pictures';
import { newSample } from '../../cut/new-sample';
import { untouchedCut } from '../../cut/parse';
import { runToEnd } from '../../numeric/steps';
import { wholeOf } from '../../raster/raster';
import { reachMaps, renderCut, renderPart, renderScene } from '../../render';
import { sceneOf } from '../../scene/scene';
import { Kept } from '../kept';
import { Alike } from './alike';

describe('Alike', () => {
  it('joins cells that touch, counts their pixels, and leaves a few stray ones out', () => {
    const alike = new Alike(200, 100);
    for (let k = 0; k < 40; k++) alike.add(20 + k, 20);
    for (let k = 0; k < 10; k++) alike.add(190, 90);
    for (let k = 0; k < 3; k++) alike.add(120, 50);
    expect(alike.places()).toEqual([
      { x: 0, y: 0, width: 64, height: 32, pixels: 40 },
      { x: 160, y: 64, width: 32, height: 32, pixels: 10 },
    ]);
  });
});

describe('an edge whose two sides are too alike', () => {
  const cut = {
    ...untouchedCut(),
    clear: {
      on: true,
      samples: [newSample('s1', 3, 3, { tolerance: 1 })],
      pockets: [],
      marks: [],
      ink: null,
    },
  };
  const halves = (right: number) =>
    renderCut(
      paint(120, 120, (x, y) => {
        if (Math.hypot(x - 60, y - 60) > 40) return [200, 200, 200];
        return x < 60 ? [40, 40, 120] : [right, right, right];
      }),
      cut,
    );

  it('is told of where it is, and only there', () => {
    const { alike } = halves(192);
    expect(alike.length).toBeGreaterThan(0);
    for (const place of alike) expect(place.x).toBeGreaterThanOrEqual(32);
    expect(alike.reduce((sum, { pixels }) => sum + pixels, 0)).toBeGreaterThan(100);
  });

  it('is told of once, also where shaping looks at rows twice', () => {
    // Wide enough that it is made in two parts.
    const wide = paint(2400, 450, (x, y) => {
      const inside = Math.abs(x - 1200) < 150 && Math.abs(y - 225) < 205;
      return inside ? [192, 192, 192] : [200, 200, 200];
    });
    const shaped = { ...cut, edge: { ...cut.edge, softnessPx: 6 } };
    const { alike } = renderCut(wide, cut);
    expect(alike.length).toBeGreaterThan(0);
    expect(renderCut(wide, shaped).alike).toEqual(alike);
  });

  it('is told of where drafts have drawn the edge before', () => {
    const picture = paint(120, 120, (x, y) =>
      Math.hypot(x - 60, y - 60) > 40 ? [200, 200, 200] : [192, 192, 192],
    );
    const inked = { ...cut, ink: { ...cut.ink, color: '#1d2a6b' } };
    const scene = sceneOf(picture);
    const kept = Kept.of(picture);
    runToEnd(reachMaps(scene, inked, kept.maps));
    expect(renderPart(scene, inked, kept, wholeOf(picture))).not.toBeNull();
    const { alike } = runToEnd(renderScene(scene, inked, kept));
    expect(alike.length).toBeGreaterThan(0);
    expect(alike).toEqual(renderCut(picture, inked).alike);
    // Colored otherwise, the edge is as it was.
    const other = { ...inked, ink: { ...cut.ink, color: '#800000' } };
    expect(runToEnd(renderScene(scene, other, kept)).alike).toEqual(alike);
  });

  it('is not told of where they differ enough', () => {
    expect(halves(120).alike).toEqual([]);
  });
});
