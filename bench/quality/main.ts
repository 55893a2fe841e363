import { mkdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { untouchedCut } from '../../src/core/cut/parse';
import { propose } from '../../src/core/proposal/propose';
import { renderCut } from '../../src/core/render';
import type { Raster } from '../../src/core/raster/raster';
import { asPicture } from '../../demo/picture';
import { drawCases, KINDS } from './cases';
import { measure, yardstickOf, type Measures } from './measures';
import { referencesFor } from './references';

/**
 * npm run quality: the proposal's cutouts, without any hand, against known truth, beside references on the same cases.
 * `--seed N` draws other cases, `--kind K` only one kind, `--pictures FOLDER` writes each case's picture and cutout.
 */
const { values } = parseArgs({
  options: { seed: { type: 'string', default: '1' }, kind: { type: 'string' }, pictures: { type: 'string' } },
});

interface Row {
  readonly name: string;
  readonly kind: string;
  readonly found: string;
  readonly reason: string;
  readonly ours: Measures;
  readonly hard: Measures;
  readonly soft: Measures;
  readonly ceiling: Measures;
}

const rows: Row[] = [];
for (const { name, kind, truth, picture } of await drawCases(Number(values.seed))) {
  if (values.kind && values.kind !== kind) continue;
  const proposal = propose(picture);
  const ours = renderCut(picture, proposal.cut ?? untouchedCut()).raster;
  const yardstick = yardstickOf(truth);
  const { hard, soft, ceiling } = referencesFor(picture, truth);
  rows.push({
    name,
    kind,
    found: proposal.kind,
    reason: proposal.reason,
    ours: measure(yardstick, ours),
    hard: measure(yardstick, hard),
    soft: measure(yardstick, soft),
    ceiling: measure(yardstick, ceiling),
  });
  if (values.pictures) await writePictures(values.pictures, name, picture, ours);
}
printCases();
printKinds();
await mkdir('dist', { recursive: true });
await writeFile(
  path.join('dist', 'quality.json'),
  JSON.stringify({ seed: Number(values.seed), rows }, null, 2),
);

function printCases(): void {
  console.log('| case | found | MSE | hard | soft | ceiling | edge | hard | ceiling | leftover | loss % |');
  console.log('| --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- |');
  for (const { name, found, ours, hard, soft, ceiling } of rows) {
    const cells = [
      ours.mse,
      hard.mse,
      soft.mse,
      ceiling.mse,
      ours.edgeColor,
      hard.edgeColor,
      ceiling.edgeColor,
    ].map((value) => value.toFixed(2));
    console.log(
      `| ${name} | ${found} | ${cells.join(' | ')} | ${ours.leftover.toFixed(0)} | ${ours.loss.toFixed(2)} |`,
    );
  }
}

function printKinds(): void {
  console.log(
    '\n| kind | cases | MSE x1000 | hard | soft | ceiling | ours / hard | edge color | hard | ceiling | SAD | gradient | no leftover | loss under 0.2 % |',
  );
  console.log('| --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- |');
  for (const kind of KINDS) {
    const of = rows.filter((row) => row.kind === kind);
    if (of.length === 0) continue;
    const mean = (pick: (row: Row) => number) => of.reduce((sum, row) => sum + pick(row), 0) / of.length;
    const cells = [
      mean((row) => row.ours.mse).toFixed(2),
      mean((row) => row.hard.mse).toFixed(2),
      mean((row) => row.soft.mse).toFixed(2),
      mean((row) => row.ceiling.mse).toFixed(2),
      (mean((row) => row.ours.mse) / mean((row) => row.hard.mse)).toFixed(2),
      mean((row) => row.ours.edgeColor).toFixed(2),
      mean((row) => row.hard.edgeColor).toFixed(2),
      mean((row) => row.ceiling.edgeColor).toFixed(2),
      mean((row) => row.ours.sad).toFixed(2),
      mean((row) => row.ours.gradient).toFixed(2),
      `${of.filter((row) => row.ours.leftover === 0).length} of ${of.length}`,
      `${of.filter((row) => row.ours.loss < 0.2).length} of ${of.length}`,
    ];
    console.log(`| ${kind} | ${of.length} | ${cells.join(' | ')} |`);
  }
}

async function writePictures(folder: string, name: string, picture: Raster, ours: Raster): Promise<void> {
  await mkdir(folder, { recursive: true });
  const stem = path.join(folder, name.replaceAll(' ', '-'));
  await asPicture(picture).png().toFile(`${stem}.png`);
  await asPicture(ours).flatten({ background: '#ff00ff' }).png().toFile(`${stem}-cutout.png`);
}
