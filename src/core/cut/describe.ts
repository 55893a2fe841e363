import type { Cut, Edge, Sample } from './schema';

/** Says in a few words how `after` differs from `before`: the name of the step in undo and redo. */
export function describeChange(before: Cut, after: Cut): string {
  const old = new Map(before.clear.samples.map((sample) => [sample.id, sample]));
  const fresh = new Map(after.clear.samples.map((sample) => [sample.id, sample]));
  const added = after.clear.samples.filter((sample) => !old.has(sample.id));
  const gone = before.clear.samples.filter((sample) => !fresh.has(sample.id));
  if (added.length > 0) return added.length === 1 ? 'add a sample' : `add ${added.length} samples`;
  if (gone.length > 0) return gone.length === 1 ? 'delete a sample' : `delete ${gone.length} samples`;
  for (const sample of after.clear.samples) {
    const words = describeSample(old.get(sample.id)!, sample);
    if (words) return words;
  }
  const decided = after.clear.pockets.length - before.clear.pockets.length;
  if (JSON.stringify(before.clear.pockets) !== JSON.stringify(after.clear.pockets)) {
    return decided > 1 ? `decide ${decided} pockets` : 'decide a pocket';
  }
  const painted = describeStrokes(before.edge.fineDetail.length, after.edge.fineDetail.length);
  if (painted) return painted;
  const shaped = describeShaping(before.edge, after.edge);
  if (shaped) return shaped;
  if (before.edge.on !== after.edge.on) return after.edge.on ? 'switch Edge on' : 'switch Edge off';
  if (before.clear.on !== after.clear.on) return after.clear.on ? 'switch Clear on' : 'switch Clear off';
  if (before.deliver.fileName !== after.deliver.fileName) return 'rename the file';
  return 'no change';
}

function describeStrokes(before: number, after: number): string | null {
  if (after > before) return 'paint fine detail';
  if (after < before) return after === 0 ? 'delete all fine detail' : 'delete a stroke of fine detail';
  return null;
}

function describeShaping(before: Edge, after: Edge): string | null {
  if (before.widthPx !== after.widthPx)
    return after.widthPx === null ? 'edge width as found' : `edge width ${after.widthPx} px`;
  if (before.spill !== after.spill) return `spill ${after.spill} %`;
  if (before.offsetPx !== after.offsetPx) return `offset ${after.offsetPx} px`;
  if (before.softnessPx !== after.softnessPx) return `softness ${after.softnessPx} px`;
  if (before.evenness !== after.evenness) return `evenness ${after.evenness}`;
  if (before.firmness !== after.firmness) return `firmness ${after.firmness}`;
  return null;
}

function describeSample(before: Sample, after: Sample): string | null {
  if (before.tolerance !== after.tolerance) return `tolerance ${before.tolerance} to ${after.tolerance}`;
  if (before.reach !== after.reach) return `reach ${after.reach}`;
  if (before.backdrop !== after.backdrop) return `backdrop ${after.backdrop}`;
  if (before.shade.darker !== after.shade.darker) return `shade darker ${after.shade.darker}`;
  if (before.shade.lighter !== after.shade.lighter) return `shade lighter ${after.shade.lighter}`;
  if (before.x !== after.x || before.y !== after.y) return 'move a sample';
  if (JSON.stringify(before.to) !== JSON.stringify(after.to)) return 'take a sample over a stretch';
  if (before.areaPx !== after.areaPx) return `sample area ${after.areaPx} px`;
  if (before.on !== after.on) return after.on ? 'switch a sample on' : 'switch a sample off';
  return null;
}
