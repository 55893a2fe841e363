import { BACKINGS, type Backing } from '../core/view/backing';
import type { Rect } from '../core/raster/raster';
import type { View } from '../core/view/compose';
import type { Magnified } from '../engine/protocol';
import { api } from './api';
import type { BenchState, Comparing, Shown, StoreParts } from './bench-state';
import { centered, fit, panBy, pixelUnder, zoomAt } from './placement';

/** Everything a person can do to see better: zoom, backings, ways of showing, comparing. */
export function lookActions({ get, set, client, piece }: StoreParts, show: () => void) {
  function place(view: View, fitted = false): void {
    set({ view, fitted });
    show();
  }

  /** The width that one picture has of the sheet's area. */
  const widthOf = (sheetWidth: number, comparing: Comparing) =>
    comparing === 'beside' ? Math.floor(sheetWidth / 2) : sheetWidth;

  const actions = {
    resize(width: number, height: number): void {
      const { view, fitted, comparing } = get();
      set({ sheetWidth: width });
      const size = { width: widthOf(width, comparing), height };
      if (fitted || view.width === 0) place(fit(get().frame.crop, size), true);
      else place({ ...view, ...size });
    },
    fit: () => place(fit(get().frame.crop, get().view), true),
    /** Zooms to a scale around a point, or around the middle of the sheet's area. */
    zoomTo(scale: number, x = get().view.width / 2, y = get().view.height / 2): void {
      const { view } = get();
      if (get().fitted && x === view.width / 2 && y === view.height / 2)
        place(centered(get().frame.crop, view, scale));
      else place(zoomAt(view, x, y, scale));
    },
    zoomBy: (factor: number, x: number, y: number) =>
      place(zoomAt(get().view, x, y, get().view.scale * factor)),
    pan: (dx: number, dy: number) => place(panBy(get().view, dx, dy, get().frame.crop)),
    /** Brings a pixel of the picture into the middle of the sheet's area. */
    lookAt(x: number, y: number): void {
      const { view, frame } = get();
      const left = Math.round(view.width / 2 - x * view.scale);
      const top = Math.round(view.height / 2 - y * view.scale);
      place(panBy({ ...view, left, top }, 0, 0, frame.crop));
    },
    /** Brings a part of the picture into the middle of the sheet's area at a fitting zoom. */
    flyTo({ x, y, width, height }: Rect): void {
      const { view } = get();
      const size = Math.max(width, height, 16);
      const fitting = (0.4 * Math.min(view.width, view.height)) / size;
      const scale = Math.min(8, Math.max(Math.min(1, view.scale), fitting));
      place({
        ...view,
        scale,
        left: Math.round(view.width / 2 - (x + width / 2) * scale),
        top: Math.round(view.height / 2 - (y + height / 2) * scale),
      });
    },
    setLook(look: BenchState['look']): void {
      if (get().look === look) return;
      set({ look });
      show();
    },
    setShown(shown: Shown): void {
      set({ shown });
      show();
    },
    /** Shows the result in another way, or as it is where it is shown so already. */
    toggleShown: (shown: Shown) => actions.setShown(get().shown === shown ? 'result' : shown),
    /** Shows the original beside the result, or under a line that is drawn across; or no more. */
    toggleComparing(comparing: Comparing): void {
      const { comparing: before, sheetWidth, view, fitted } = get();
      const next = before === comparing ? 'none' : comparing;
      set({ comparing: next });
      const sized = { ...view, width: widthOf(sheetWidth, next) };
      if (fitted) place(fit(get().frame.crop, sized), true);
      else place({ ...sized, left: view.left + Math.round((sized.width - view.width) / 2) });
    },
    /** Draws the line across to a share of the sheet's width. */
    setWipe(wipe: number): void {
      set({ wipe: Math.min(1, Math.max(0, wipe)) });
      show();
    },
    toggleLoupe: () => set({ loupe: !get().loupe }),
    /** Original and result around the pointer, `scale` screen pixels a pixel. */
    magnify(scale: number, side: number): Promise<Magnified | null> {
      const { pointer } = get();
      return pointer ? client.magnify(pointer.x, pointer.y, scale, side) : Promise.resolve(null);
    },
    /** Shows another backing, and the result on it. */
    setBacking(backing: Backing): void {
      set({ backing, shown: 'result' });
      show();
      void api.setBacking(piece.id, backing).catch(() => undefined);
    },
    /** The same, only while something is looked at: the piece keeps its backing. */
    showOn(backing: Backing | null, faint: boolean): void {
      set({ ...(backing === null ? {} : { backing }), shown: faint ? 'faint' : 'result' });
      show();
    },
    stepBacking(): void {
      const { backing, checked } = get();
      const all = [
        ...new Set([...BACKINGS.map(({ value }) => value), ...(checked ? [checked.contrast] : [])]),
      ];
      actions.setBacking(all[(all.indexOf(backing) + 1) % all.length]!);
    },
    /** Points at a screen pixel; the probe follows. */
    async point(x: number, y: number): Promise<void> {
      const { view, frame } = get();
      const at = pixelUnder(view, x, y);
      set({ over: { x, y } });
      if (at.x < 0 || at.y < 0 || at.x >= frame.crop.width || at.y >= frame.crop.height) {
        set({ pointer: null });
        return;
      }
      set({ pointer: { ...at, probe: get().pointer?.probe ?? null, isRead: false } });
      // While a brush is led the engine has better to do.
      if (get().ledHand) return;
      const probe = await client.probe(at.x, at.y);
      const now = get().pointer;
      if (now && now.x === at.x && now.y === at.y) set({ pointer: { ...at, probe, isRead: true } });
    },
    pointAway: () => set({ pointer: null, over: null }),
  };
  return actions;
}
