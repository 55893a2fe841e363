import { parseArgs } from 'node:util';
import { attackDoors } from './attack-doors';
import { attackFormats } from './attack-formats';
import { attackFullDisk } from './attack-full-disk';
import { attackKills } from './attack-kills';
import { attackPackage } from './attack-package';
import { attackPictures } from './attack-pictures';
import { attackPlacing } from './attack-placing';
import { attackRuns } from './attack-runs';
import { attackTwoClients } from './attack-two-clients';
import { linesOf, type Limits, type PartReport } from './report';

const PARTS = {
  pictures: attackPictures,
  formats: attackFormats,
  placing: attackPlacing,
  kills: attackKills,
  runs: attackRuns,
  disk: attackFullDisk,
  doors: attackDoors,
  clients: attackTwoClients,
  package: attackPackage,
} as const;

type Part = keyof typeof PARTS;

const { values } = parseArgs({
  options: {
    seconds: { type: 'string', default: '600' },
    seed: { type: 'string', default: '1' },
    most: { type: 'string' },
    only: { type: 'string' },
    pieces: { type: 'string', default: '0' },
  },
});
const number = (name: 'seconds' | 'seed' | 'most' | 'pieces', least: number): number => {
  const text = values[name];
  if (text !== undefined && /^\d{1,9}$/.test(text) && Number(text) >= least) return Number(text);
  console.error(`--${name}: expected a whole number from ${least}, got ${text}`);
  process.exit(2);
};
const names = Object.keys(PARTS) as Part[];
const wanted = values.only?.split(',') ?? names;
const strange = wanted.find((name) => !names.includes(name as Part));
if (strange !== undefined) {
  console.error(`--only: expected some of ${names.join(', ')}, got ${strange}`);
  process.exit(2);
}

const seed = number('seed', 0);
const seconds = number('seconds', 1);
const most = values.most === undefined ? 10_000_000 : number('most', 1);
const reports: PartReport[] = [];
for (const name of wanted as Part[]) {
  const limits: Limits = { seed, until: Date.now() + seconds * 1000, most: mostOf(name) };
  const report =
    name === 'kills' ? await attackKills(limits, number('pieces', 0)) : await PARTS[name](limits);
  reports.push(report);
  for (const line of linesOf(report)) console.log(line);
}
const wrong = reports.reduce((sum, report) => sum + report.wrong.length, 0);
console.log(wrong === 0 ? `\nNothing wrong (seed ${seed}).` : `\n${wrong} wrong (seed ${seed}).`);
process.exitCode = wrong === 0 ? 0 : 1;

/** How many tries a part makes at most; a full disk and every door are the same each time, so that few do. */
function mostOf(name: Part): number {
  if (name === 'pictures' || name === 'formats') return Math.min(most, 20_000);
  if (name === 'runs') return Math.min(most, most < 10 ? 3 : 100_000);
  if (name === 'disk') return Math.min(most, most < 100 ? 1 : 3);
  return most;
}
