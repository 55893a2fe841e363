import { ActionIcon, Button, Tooltip, UnstyledButton, VisuallyHidden } from '@mantine/core';
import {
  IconAlertTriangle,
  IconChevronDown,
  IconChevronRight,
  IconCircleCheck,
  IconEraser,
  IconEyeCheck,
  IconInfoCircle,
  IconPin,
  IconTool,
} from '@tabler/icons-react';
import { WHY_STAYS } from '../../core/decision/reasons';
import type { Finding, Place, Severity } from '../../core/findings/finding';
import type { PocketPlace } from '../../core/findings/pockets';
import { fixWords, TREATMENTS } from '../../core/findings/fixes';
import { formatCount } from '../format';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { ProposeAnew } from './ProposeAnew';
import { Question } from './Question';

/** Places that are listed at a time; the buttons act on all. */
const LISTED = 40;

/** The margin of notes: what the proposal saw, and what the checks found in the full-size result. */
export function Findings() {
  const reason = useBench((state) => state.piece.reason);
  const open = useBench((state) => state.open);
  const stale = useBench((state) => state.stale);
  return (
    <section aria-label="Findings" className={classes.findings}>
      <h2>Findings</h2>
      <State />
      <Question />
      <ul className={classes.findingList} data-stale={stale || undefined}>
        {open.map((finding) => (
          <FindingRow key={finding.kind} finding={finding} />
        ))}
      </ul>
      <FixFaults />
      <Areas />
      <Dismissed />
      {reason && (
        <p className={classes.reason}>
          <span className={classes.soft}>Proposed on import: </span>
          {reason}
        </p>
      )}
      <ProposeAnew />
    </section>
  );
}

/** Whether the checks are through, and what that means: always one line, so that the rows below stay where they are. */
function State() {
  const stale = useBench((state) => state.stale);
  const resting = useBench((state) => state.resting);
  const checked = useBench((state) => state.checked !== null);
  const found = useBench((state) => state.open.length);
  const cleared = useBench((state) => (state.alpha?.transparent ?? 0) > 0);
  if (stale && resting) return <p className={classes.soft}>Not checked: the full size was cancelled.</p>;
  if (stale)
    return (
      <p className={classes.soft} aria-live="polite">
        {checked ? 'Of the cut before; checking again' : 'Checking at full size'}
      </p>
    );
  if (found > 0) return <p className={classes.soft}>Checked at full size</p>;
  return (
    <p className={classes.allClean} aria-live="polite">
      {cleared && <IconCircleCheck size={16} stroke={1.7} aria-hidden="true" />}
      {cleared ? 'All clean: every check ran at full size.' : 'Nothing is cleared yet.'}
    </p>
  );
}

const SEVERITIES: Readonly<Record<Severity, { readonly icon: typeof IconTool; readonly word: string }>> = {
  fault: { icon: IconAlertTriangle, word: 'Fault' },
  doubt: { icon: IconEyeCheck, word: 'Worth a look' },
  note: { icon: IconInfoCircle, word: 'Note' },
};

/** A finding's name with its count or its measure. */
export function titleOf({ kind, count, pixels, amount }: Finding): string {
  const [one, many] = TREATMENTS[kind].name;
  if (kind === 'halo') return `halo ${(amount ?? 0).toFixed(1)}`;
  if (kind === 'residue') return `residue, ${formatCount(pixels)} px`;
  if (one === many) return one;
  return `${formatCount(count)} ${count === 1 ? one : many}`;
}

function FindingRow({ finding }: { readonly finding: Finding }) {
  const isOpen = useBench(({ at }) => at?.kind === finding.kind);
  const actions = useBenchActions();
  const { icon: Icon, word } = SEVERITIES[finding.severity];
  const Arrow = isOpen ? IconChevronDown : IconChevronRight;
  return (
    <li data-severity={finding.severity}>
      <UnstyledButton
        className={classes.findingHead}
        aria-expanded={isOpen}
        onClick={() => (isOpen ? actions.leaveFinding() : void actions.goToFinding(finding.kind, 0))}
      >
        <Icon size={15} stroke={1.8} aria-label={word} />
        <span>{titleOf(finding)}</span>
        <Arrow size={14} stroke={1.6} aria-hidden="true" />
      </UnstyledButton>
      {isOpen && <FindingBody finding={finding} />}
    </li>
  );
}

function FindingBody({ finding }: { readonly finding: Finding }) {
  const actions = useBenchActions();
  const words = useBench(({ cut }) => fixWords(finding, finding.places.length, cut));
  const { local, name } = TREATMENTS[finding.kind];
  const title = `${name[1][0]!.toUpperCase()}${name[1].slice(1)}`;
  return (
    <div className={classes.findingBody}>
      <p>{finding.sentence}</p>
      {words && (
        <Button size="xs" variant="default" fullWidth onClick={() => actions.fixFinding(finding)}>
          {words}
        </Button>
      )}
      <Button
        size="xs"
        variant="subtle"
        color="gray"
        fullWidth
        onClick={() => actions.dismissFinding(finding)}
      >
        {finding.kind === 'pocket' ? 'Keep all' : 'Leave as it is'}
      </Button>
      <ol className={classes.pockets} aria-label={title}>
        {finding.places.slice(0, LISTED).map((place, index) => (
          <PlaceRow
            key={`${place.x},${place.y},${place.at.x},${place.at.y}`}
            finding={finding}
            place={place}
            index={index}
            fixable={local && words !== null}
          />
        ))}
      </ol>
      {finding.count > LISTED && (
        <p className={classes.soft}>and {formatCount(finding.count - LISTED)} smaller ones</p>
      )}
    </div>
  );
}

interface PlaceRowProps {
  readonly finding: Finding;
  readonly place: Place;
  readonly index: number;
  readonly fixable: boolean;
}

function PlaceRow({ finding, place, index, fixable }: PlaceRowProps) {
  const isHere = useBench(({ at }) => at?.kind === finding.kind && at.index === index && !at.done);
  const actions = useBenchActions();
  const [one] = TREATMENTS[finding.kind].name;
  const name = `${one} ${index + 1}`;
  const isPocket = finding.kind === 'pocket';
  return (
    <li data-here={isHere || undefined}>
      <UnstyledButton
        className={classes.pocketButton}
        aria-current={isHere || undefined}
        onClick={() => void actions.goToFinding(finding.kind, index)}
      >
        <VisuallyHidden>Show {one} </VisuallyHidden>
        <span className={classes.sampleNumber}>{index + 1}</span>
        <span>{formatCount(place.pixels)} px</span>
      </UnstyledButton>
      {fixable && (
        <Tooltip label={isPocket ? 'Clear this area' : 'Put right only here'}>
          <ActionIcon
            size={24}
            aria-label={isPocket ? `Clear ${name}` : `Fix ${name}`}
            onClick={() => actions.fixFinding(finding, [place])}
          >
            {isPocket ? <IconEraser size={15} stroke={1.6} /> : <IconTool size={15} stroke={1.6} />}
          </ActionIcon>
        </Tooltip>
      )}
      <Tooltip label={isPocket ? 'Keep it: it belongs to the subject' : 'Leave it as it is'}>
        <ActionIcon
          size={24}
          aria-label={isPocket ? `Keep ${name}` : `Dismiss ${name}`}
          onClick={() => actions.dismissFinding(finding, [place])}
        >
          {isPocket ? <IconPin size={15} stroke={1.6} /> : <IconEyeCheck size={15} stroke={1.6} />}
        </ActionIcon>
      </Tooltip>
    </li>
  );
}

/** Everything that is surely wrong, at once. */
function FixFaults() {
  const count = useBench(({ open }) =>
    open.reduce((sum, { severity, places }) => sum + (severity === 'fault' ? places.length : 0), 0),
  );
  const kinds = useBench(({ open }) => open.filter(({ severity }) => severity === 'fault').length);
  const actions = useBenchActions();
  if (kinds < 2) return null;
  return (
    <Button size="xs" fullWidth onClick={actions.fixFaults}>
      Fix all {formatCount(count)} faults
    </Button>
  );
}

/** Every enclosed area and what was decided of it, to be turned round one by one or all at once. */
function Areas() {
  const areas = useBench((state) => state.checked?.pockets);
  const actions = useBenchActions();
  if (!areas || areas.length === 0) return null;
  const cleared = areas.filter(({ goes }) => goes).length;
  return (
    <details className={classes.kept}>
      <summary>{areasSummary(cleared, areas.length - cleared)}</summary>
      <div className={classes.areaButtons}>
        <Button
          size="xs"
          variant="default"
          aria-label="Keep all areas"
          disabled={cleared === 0}
          onClick={() => actions.decideAllAreas(true)}
        >
          Keep all
        </Button>
        <Button
          size="xs"
          variant="default"
          aria-label="Clear all areas"
          disabled={cleared === areas.length}
          onClick={() => actions.decideAllAreas(false)}
        >
          Clear all
        </Button>
      </div>
      <ol className={classes.pockets} aria-label="Enclosed areas">
        {areas.slice(0, LISTED).map((area, index) => (
          <AreaRow key={`${area.at.x},${area.at.y}`} area={area} index={index} />
        ))}
      </ol>
      {areas.length > LISTED && (
        <p className={classes.soft}>and {formatCount(areas.length - LISTED)} smaller ones</p>
      )}
    </details>
  );
}

function areasSummary(cleared: number, kept: number): string {
  const areas = (count: number) => `${formatCount(count)} enclosed ${count === 1 ? 'area' : 'areas'}`;
  if (kept === 0) return `${areas(cleared)} cleared`;
  if (cleared === 0) return `${areas(kept)} kept`;
  return `${areas(cleared)} cleared, ${formatCount(kept)} kept`;
}

function AreaRow({ area, index }: { readonly area: PocketPlace; readonly index: number }) {
  const actions = useBenchActions();
  const why = area.why && !area.goes ? WHY_STAYS[area.why]?.[0] : null;
  return (
    <li>
      <UnstyledButton className={classes.pocketButton} onClick={() => actions.flyTo(area)}>
        <VisuallyHidden>Show area </VisuallyHidden>
        <span className={classes.sampleNumber}>{index + 1}</span>
        <span>
          {area.goes ? 'cleared' : 'kept'}, {formatCount(area.pixels)} px
        </span>
      </UnstyledButton>
      <Tooltip
        label={area.goes ? 'Keep it after all' : `Clear it after all${why ? `; kept because ${why}` : ''}`}
      >
        <ActionIcon
          size={24}
          aria-label={area.goes ? `Keep area ${index + 1}` : `Clear area ${index + 1}`}
          onClick={() => actions.turnArea(area)}
        >
          {area.goes ? <IconPin size={15} stroke={1.6} /> : <IconEraser size={15} stroke={1.6} />}
        </ActionIcon>
      </Tooltip>
    </li>
  );
}

function Dismissed() {
  const count = useBench((state) => state.cut.findings.dismissed.length);
  const actions = useBenchActions();
  if (count === 0) return null;
  return (
    <p className={classes.soft}>
      {count === 1 ? '1 left as it is. ' : `${count} left as they are. `}
      <UnstyledButton className={classes.statusButton} onClick={actions.restoreFindings}>
        Ask again
      </UnstyledButton>
    </p>
  );
}
