import type { ByInk, Cut, Edge, Ink, Mark, Prepare, Sample } from './schema';

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
  const marked = describeMarks(before.clear.marks, after.clear.marks);
  if (marked) return marked;
  const decided = after.clear.pockets.length - before.clear.pockets.length;
  if (JSON.stringify(before.clear.pockets) !== JSON.stringify(after.clear.pockets)) {
    return decided > 1 ? `decide ${decided} pockets` : 'decide a pocket';
  }
  const described =
    describePrepare(before.prepare, after.prepare) ??
    describeByInk(before.clear.ink, after.clear.ink) ??
    describeInk(before.ink, after.ink);
  if (described) return described;
  const painted = describeStrokes(before.edge.fineDetail.length, after.edge.fineDetail.length);
  if (painted) return painted;
  const shaped = describeShaping(before.edge, after.edge);
  if (shaped) return shaped;
  const mended = describeMends(before, after);
  if (mended) return mended;
  if (before.edge.on !== after.edge.on) return after.edge.on ? 'switch Edge on' : 'switch Edge off';
  if (before.clear.on !== after.clear.on) return after.clear.on ? 'switch Clear on' : 'switch Clear off';
  if (before.deliver.fileName !== after.deliver.fileName) return 'rename the file';
  if (JSON.stringify(before.deliver.print) !== JSON.stringify(after.deliver.print))
    return after.deliver.print ? `print ${after.deliver.print.widthMm} mm wide` : 'no print size';
  const dismissed = after.findings.dismissed.length - before.findings.dismissed.length;
  if (dismissed > 0) return dismissed === 1 ? 'dismiss a finding' : `dismiss ${dismissed} findings`;
  if (dismissed < 0) return 'bring findings back';
  return 'no change';
}

const MENDS = {
  speck: 'clear a speck',
  pinhole: 'close a pinhole',
  residue: 'clear residue',
  halo: 'clean the rim',
} as const;

function describeMends({ touchUp: before }: Cut, { touchUp: after }: Cut): string | null {
  if (before.on !== after.on) return after.on ? 'switch Touch up on' : 'switch Touch up off';
  const more = after.mends.length - before.mends.length;
  if (more === 1) return MENDS[after.mends.at(-1)!.mend];
  if (more > 1) return `mend ${more} places`;
  if (more < 0) return more === -1 ? 'delete a mend' : `delete ${-more} mends`;
  return null;
}

function describePrepare(before: Prepare, after: Prepare): string | null {
  if (before.on !== after.on) return after.on ? 'switch Prepare on' : 'switch Prepare off';
  if (JSON.stringify(before.corners) !== JSON.stringify(after.corners))
    return after.corners ? 'set the corners of the sheet' : 'no corners of a sheet';
  if (before.flip !== after.flip) return 'flip';
  if (before.turn !== after.turn) return `turn to ${after.turn}°`;
  if (before.straightenDeg !== after.straightenDeg) return `straighten ${after.straightenDeg}°`;
  if (JSON.stringify(before.crop) !== JSON.stringify(after.crop))
    return after.crop ? `crop to ${after.crop.width} x ${after.crop.height}` : 'no crop';
  if (before.flatten !== after.flatten) return `flatten light ${after.flatten} %`;
  if (before.calm !== after.calm) return `calm grain ${after.calm} %`;
  if (before.removeRules !== after.removeRules)
    return after.removeRules ? 'remove ruled lines' : 'leave ruled lines';
  return null;
}

function describeByInk(before: ByInk | null, after: ByInk | null): string | null {
  if (!before || !after) return before === after ? null : after ? 'clear by ink' : 'do not clear by ink';
  if (before.on !== after.on) return after.on ? 'switch clearing by ink on' : 'switch clearing by ink off';
  if (before.channel !== after.channel) return `read ${after.channel}`;
  if (before.black !== after.black) return `black point ${after.black}`;
  if (before.white !== after.white) return `white point ${after.white}`;
  if (before.mid !== after.mid) return `mid point ${after.mid}`;
  if (before.speckPx !== after.speckPx) return `drop specks under ${after.speckPx} px²`;
  return null;
}

function describeInk(before: Ink, after: Ink): string | null {
  if (before.color !== after.color) return after.color ? `ink ${after.color}` : 'keep the colors';
  if (before.density !== after.density) return `density ${after.density} %`;
  if (before.light !== after.light) return after.light ? 'light version' : 'no light version';
  const more = after.colorways.length - before.colorways.length;
  if (more > 0) return 'add a colorway';
  if (more < 0) return 'delete a colorway';
  if (JSON.stringify(before.colorways) !== JSON.stringify(after.colorways)) return 'change a colorway';
  if (before.on !== after.on) return after.on ? 'switch Ink on' : 'switch Ink off';
  return null;
}

function describeMarks(before: readonly Mark[], after: readonly Mark[]): string | null {
  if (after.length > before.length) return after.at(-1)!.goes ? 'mark what goes' : 'mark what stays';
  if (after.length < before.length) return after.length === 0 ? 'delete all marks' : 'delete a mark';
  return null;
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
  if (before.rule !== after.rule)
    return after.rule === 'whole' ? 'decide by the whole picture' : 'decide by tolerance';
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
