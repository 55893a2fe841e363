import { checkKey } from '../core/cut/keys';
import type { Cut, FindingKind } from '../core/cut/schema';
import { rgbOfHex } from '../core/color/hex';
import { lumaOf } from '../core/color/luma';
import { bearingsOf } from '../core/findings/bearings';
import { holds, without, type Finding, type Place } from '../core/findings/finding';
import { dismiss, fixed, fixedFaults, openFindings, TREATMENTS } from '../core/findings/fixes';
import { decidePockets, type PocketPlace } from '../core/findings/pockets';
import { questionOf } from '../core/findings/question';
import { frameOf } from '../core/stages/prepare/frame';
import type { BenchState, StoreParts } from './bench-state';

/**
 * What of the state says which findings are open, and whether the cut has changed since they were looked for. Where it has
 * not, as after undo, everything that was found then is open, what was mended meanwhile too.
 */
export function openOf({
  checked,
  cut,
  piece,
  mended,
}: Pick<BenchState, 'checked' | 'cut' | 'piece' | 'mended'>): {
  readonly open: readonly Finding[];
  readonly stale: boolean;
} {
  if (!checked) return { open: [], stale: true };
  const stale = checkKey(cut) !== checked.key;
  const found = stale ? withoutMended(checked.findings, mended) : checked.findings;
  return { open: openFindings(found, cut, bearingsIn(cut, piece)), stale };
}

function bearingsIn({ prepare }: Cut, piece: { readonly width: number; readonly height: number }) {
  return bearingsOf(frameOf(prepare, piece.width, piece.height), piece);
}

function withoutMended(findings: readonly Finding[], mended: readonly Place[]): readonly Finding[] {
  const gone = new Set(mended);
  return findings
    .map((finding) => without(finding, (place) => gone.has(place)))
    .filter((finding) => finding !== null);
}

/** The finding and the place that are looked at; null where they are there no more. */
export function placeAt({ open, at }: Pick<BenchState, 'open' | 'at'>): {
  readonly finding: Finding;
  readonly place: Place;
} | null {
  const finding = at && !at.done ? open.find(({ kind }) => kind === at.kind) : undefined;
  const place = finding?.places[at!.index];
  return finding && place ? { finding, place } : null;
}

/** The areas of the one question, without those that were answered since; none where nothing is asked. */
export function asked({
  checked,
  mended,
  alpha,
}: Pick<BenchState, 'checked' | 'mended' | 'alpha'>): readonly PocketPlace[] {
  if (!checked || !alpha) return NONE;
  const answered = new Set(mended);
  return questionOf(
    checked.pockets.filter((place) => !answered.has(place)),
    alpha,
  );
}

const NONE: readonly PocketPlace[] = [];

interface Looking {
  readonly flyTo: (box: Place) => void;
  readonly leavePrepare: () => void;
  /** Shows what is found there as well as it can be seen. */
  readonly showOn: (backing: string | null, faint: boolean) => void;
}

/** Everything a person can do with findings. */
export function findingsActions({ get, set, commit, piece, client }: StoreParts, look: Looking) {
  const bearings = (cut: Cut) => bearingsIn(cut, piece);

  async function goTo(kind: FindingKind, index: number): Promise<void> {
    set({ at: { kind, index, done: false } });
    const found = placeAt(get());
    if (!found) return;
    look.leavePrepare();
    look.flyTo(found.place);
    const { place } = found;
    const old = place.background;
    const backing = old ? contrary(old) : TREATMENTS[kind].backing;
    const before = get().backing;
    const best = backing ?? (await client.contrastAt(place));
    // While the engine looked, somebody may have gone on, or chosen another backing.
    if (placeAt(get())?.place === place && get().backing === before) look.showOn(best, kind === 'residue');
  }

  /** Notes places as put right, until the checks have run again. */
  function mend(places: readonly Place[]): void {
    set({ mended: [...get().mended, ...places] });
  }

  /** Notes that the place which is looked at is decided, if it is one of these. */
  function leaveBehind(places: readonly Place[]): void {
    const { at } = get();
    const here = placeAt(get())?.place;
    if (at && here && places.includes(here)) set({ at: { ...at, done: true } });
  }

  function fixPlaces(finding: Finding, places: readonly Place[]): void {
    const { cut } = get();
    const changed = fixed(cut, finding, places, bearings(cut));
    if (checkKey(changed) === checkKey(cut)) return;
    leaveBehind(places);
    mend(TREATMENTS[finding.kind].local ? places : finding.places);
    commit(changed);
  }

  function decideAreas(areas: readonly PocketPlace[], keep: boolean): void {
    if (areas.length === 0) return;
    const { cut } = get();
    leaveBehind(areas);
    mend(areas);
    commit(decidePockets(cut, areas, bearings(cut), keep));
  }

  const actions = {
    goToFinding: goTo,
    /** Goes on to the next place of all findings, or back. */
    async stepFinding(by: 1 | -1): Promise<void> {
      const { open, at } = get();
      const all = open.flatMap(({ kind, places }) => places.map((_, index) => ({ kind, index })));
      if (all.length === 0) return;
      const first = all.findIndex(({ kind }) => kind === at?.kind);
      // Where the place that was looked at is decided, the next one has its number.
      const now = at && first >= 0 ? first + at.index - (at.done && by > 0 ? 1 : 0) : by > 0 ? -1 : 0;
      const next = all[(now + by + all.length) % all.length]!;
      await goTo(next.kind, next.index);
    },
    leaveFinding: () => set({ at: null }),
    /** Puts the place right that is looked at, where there is one and it has a fix. */
    fixFindingAt(): void {
      const found = placeAt(get());
      if (found) fixPlaces(found.finding, [found.place]);
    },
    fixFinding: (finding: Finding, places: readonly Place[] = finding.places) => fixPlaces(finding, places),
    /** Puts right at once whatever is surely wrong. */
    fixFaults(): void {
      const { cut, open } = get();
      const changed = fixedFaults(cut, open, bearings(cut));
      if (checkKey(changed) === checkKey(cut)) return;
      mend(open.flatMap(({ severity, places }) => (severity === 'fault' ? places : [])));
      commit(changed);
    },
    /** Notes places as looked at and left; a pocket is kept. */
    dismissFinding(finding: Finding, places: readonly Place[] = finding.places): void {
      const { cut } = get();
      leaveBehind(places);
      if (finding.kind === 'pocket') {
        mend(places);
        commit(decidePockets(cut, places, bearings(cut), true));
      } else commit(dismiss(cut, finding, places, bearings(cut)));
    },
    dismissFindingAt(): void {
      const found = placeAt(get());
      if (found) actions.dismissFinding(found.finding, [found.place]);
    },
    /** Brings back everything that was dismissed. */
    restoreFindings(): void {
      const { cut } = get();
      commit({ ...cut, findings: { dismissed: [] } });
    },
    /** Turns an area round: what goes stays, what stays goes. */
    turnArea(area: PocketPlace): void {
      decideAreas([area], area.goes);
    },
    /** Keeps or clears one area. */
    decideArea: (area: PocketPlace, keep: boolean) => decideAreas([area], keep),
    /** Keeps or clears all areas that are not sure; nothing while it is not known which those are. */
    answerQuestion(keep: boolean): void {
      const { checked, stale } = get();
      if (checked && !stale)
        decideAreas(
          checked.pockets.filter(({ sure }) => !sure),
          keep,
        );
    },
    /** The smallest area that lies around a pixel of the original; null where none does. */
    areaAt({ x, y }: { readonly x: number; readonly y: number }): PocketPlace | null {
      const { checked, cut } = get();
      const at = bearings(cut).toCutout(x, y);
      const around = checked?.pockets.filter((area) => holds(area, at)) ?? [];
      return around.sort((one, other) => one.width * one.height - other.width * other.height)[0] ?? null;
    },
    /** Keeps or clears every enclosed area at once. */
    decideAllAreas(keep: boolean): void {
      decideAreas(get().checked?.pockets ?? [], keep);
    },
    deleteMend(index: number): void {
      const { cut } = get();
      const mends = cut.touchUp.mends.filter((_, k) => k !== index);
      commit({ ...cut, touchUp: { ...cut.touchUp, mends } });
    },
    deleteMends(): void {
      const { cut } = get();
      commit({ ...cut, touchUp: { ...cut.touchUp, mends: [] } });
    },
  };
  return actions;
}

/** The neutral backing on which what is left of a color is seen best. */
function contrary(color: string): string {
  const { red, green, blue } = rgbOfHex(color);
  return lumaOf(red, green, blue) > 127 ? '#000000' : '#ffffff';
}
