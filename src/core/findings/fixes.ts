import { findingKindSchema, MOST_DISMISSED, type Cut, type FindingKind } from '../cut/schema';
import type { StageKey } from '../stages/stages';
import type { Backing } from '../view/backing';
import type { Bearings } from './bearings';
import { holds, without, type Finding, type Fix, type Place } from './finding';
import { uncrop } from './frame-touch';
import { cleanHalo } from './halo';
import { deleteSamples } from './idle-sample';
import { decideByWhole, hasOwnTolerance } from './missing';
import { closePinholes } from './pinholes';
import { clearPockets } from './pockets';
import { printSmaller } from './print-size';
import { clearResidue } from './residue';
import { evenEdges } from './rough-edge';
import { clearSpecks } from './specks';
import { useSafeTolerance } from './tolerance';

/** How a kind of finding is named, seen best and put right, and where. */
export interface Treatment {
  /** What it is called on the screen, for one and for many. */
  readonly name: readonly [string, string];
  /** What its button says, for a number of places; null where nothing can be done in one action. */
  readonly fixed: ((count: number, cut: Cut) => string) | null;
  readonly fix: Fix | null;
  /** Whether the fix acts on each place by itself, or on the whole cut. */
  readonly local: boolean;
  /** The backing on which it is seen best; null for the one that contrasts most. */
  readonly backing: Backing | null;
  /** The stage that it is put right in. */
  readonly stage: StageKey;
  /** Whether it is looked for in finished files too, of which nothing else is known. */
  readonly inFiles: boolean;
}

const many = (count: number, one: string) => `${count} ${one}${count === 1 ? '' : 's'}`;

export const TREATMENTS: Readonly<Record<FindingKind, Treatment>> = {
  missing: {
    name: ['part missing', 'parts missing'],
    fixed: (_count, cut) => (hasOwnTolerance(cut) ? 'Decide by the whole picture' : ''),
    fix: decideByWhole,
    local: false,
    backing: null,
    stage: 'clear',
    inFiles: false,
  },
  pocket: {
    name: ['area not sure', 'areas not sure'],
    fixed: (count) => `Clear ${many(count, 'area')}`,
    fix: clearPockets,
    local: true,
    backing: null,
    stage: 'clear',
    inFiles: false,
  },
  speck: {
    name: ['speck', 'specks'],
    fixed: (count) => `Clear ${many(count, 'speck')}`,
    fix: clearSpecks,
    local: true,
    backing: null,
    stage: 'touchUp',
    inFiles: true,
  },
  residue: {
    name: ['residue', 'residue'],
    fixed: (count) => `Clear residue at ${many(count, 'place')}`,
    fix: clearResidue,
    local: true,
    backing: null,
    stage: 'touchUp',
    inFiles: true,
  },
  pinhole: {
    name: ['pinhole', 'pinholes'],
    fixed: (count) => `Close ${many(count, 'pinhole')}`,
    fix: closePinholes,
    local: true,
    backing: '#ff00ff',
    stage: 'touchUp',
    inFiles: true,
  },
  halo: {
    name: ['halo', 'halos'],
    fixed: (count, { edge }) =>
      edge.on && edge.spill === 100
        ? `Clean the rim at ${many(count, 'place')}`
        : 'Take the old background out',
    fix: cleanHalo,
    local: true,
    backing: null,
    stage: 'edge',
    inFiles: true,
  },
  'rough-edge': {
    name: ['rough edge', 'rough edges'],
    fixed: (_count, { edge }) => (edge.on ? 'Even the edge out' : 'Estimate the edge'),
    fix: evenEdges,
    local: false,
    backing: null,
    stage: 'edge',
    inFiles: true,
  },
  frame: {
    name: ['touches the frame', 'touches the frame'],
    fixed: (_count, { prepare }) => (prepare.crop ? 'Take the crop away' : ''),
    fix: uncrop,
    local: false,
    backing: null,
    stage: 'prepare',
    inFiles: true,
  },
  alike: {
    name: ['edge too alike', 'edge too alike'],
    fixed: null,
    fix: null,
    local: true,
    backing: null,
    stage: 'edge',
    inFiles: false,
  },
  tolerance: {
    name: ['tolerance', 'tolerances'],
    fixed: (count) => (count === 1 ? 'Set a safe tolerance' : `Set ${count} safe tolerances`),
    fix: useSafeTolerance,
    local: true,
    backing: null,
    stage: 'clear',
    inFiles: false,
  },
  'idle-sample': {
    name: ['idle sample', 'idle samples'],
    fixed: (count) => `Delete ${many(count, 'sample')}`,
    fix: deleteSamples,
    local: true,
    backing: null,
    stage: 'clear',
    inFiles: false,
  },
  'print-size': {
    name: ['too few pixels', 'too few pixels'],
    fixed: () => 'Print as wide as the pixels suffice',
    fix: printSmaller,
    local: false,
    backing: null,
    stage: 'deliver',
    inFiles: false,
  },
  'hidden-color': {
    name: ['hidden color', 'hidden color'],
    fixed: null,
    fix: null,
    local: false,
    backing: null,
    stage: 'deliver',
    inFiles: true,
  },
};

/** Kinds that are looked for in finished files, in the order of their names. */
export const KINDS_IN_FILES: readonly FindingKind[] = findingKindSchema.options
  .filter((kind) => TREATMENTS[kind].inFiles)
  .toSorted();

/** What the button of a finding's fix says; null where it has none now. */
export function fixWords({ kind }: Finding, count: number, cut: Cut): string | null {
  return TREATMENTS[kind].fixed?.(count, cut) || null;
}

/** The cut with these places of a finding put right; the same cut where there is no fix. */
export function fixed(cut: Cut, { kind }: Finding, places: readonly Place[], bearings: Bearings): Cut {
  return TREATMENTS[kind].fix?.(cut, places, bearings) ?? cut;
}

/** The cut with everything put right that is surely wrong; what is doubtful waits for a decision. */
export function fixedFaults(cut: Cut, findings: readonly Finding[], bearings: Bearings): Cut {
  return findings
    .filter(({ severity }) => severity === 'fault')
    .reduce((changed, finding) => fixed(changed, finding, finding.places, bearings), cut);
}

/** A place that was dismissed is known again within so many pixels around its box. */
const NEAR_PX = 3;

/** The cut with these places noted as looked at and left, as many as it can hold. */
export function dismiss(cut: Cut, { kind }: Finding, places: readonly Place[], bearings: Bearings): Cut {
  const fresh = places.map(({ at }) => ({ kind, ...bearings.toOriginal(at.x, at.y) }));
  const dismissed = [...cut.findings.dismissed, ...fresh].slice(0, MOST_DISMISSED);
  return { ...cut, findings: { dismissed } };
}

/** Findings without the places that were dismissed; those that have none left are gone. */
export function openFindings(
  findings: readonly Finding[],
  { findings: { dismissed } }: Cut,
  { toCutout }: Pick<Bearings, 'toCutout'>,
): Finding[] {
  if (dismissed.length === 0) return [...findings];
  return findings
    .map((finding) => {
      const gone = dismissed.filter(({ kind }) => kind === finding.kind).map(({ x, y }) => toCutout(x, y));
      return without(finding, (place) => gone.some((at) => holds(place, at, NEAR_PX)));
    })
    .filter((finding) => finding !== null);
}
