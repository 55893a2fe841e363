import path from 'node:path';
import { parseArgs, type ParseArgsConfig } from 'node:util';
import type { DamagePolicy } from '../codec/decode';
import { badArgument, KenosisError } from '../core/errors';
import { inputNames } from '../core/formats';
import { PAGE_WIDTH_PX } from '../core/cut/page';
import { STANDARD } from './output';
import { readJobs } from './run-args';
import {
  formatOfName,
  OUTPUT_HELP,
  OUTPUT_OPTIONS,
  OUTPUT_USAGE,
  outputOf,
  readOutputWishes,
  type OutputWishes,
} from './output-options';
import { readSettings, stageHelp, stageOptions, stageUsage, type GivenSettings } from './stage-options';
import { KINDS_IN_FILES } from '../core/findings/fixes';
import { sameColorway } from '../core/cut/colorway-name';
import type { FindingKind } from '../core/cut/schema';
import {
  channelSchema,
  reachSchema,
  TOLERANCE,
  type Channel,
  type Reach,
} from '../core/stages/clear/settings';
import { proposedFileName } from '../core/stages/deliver/file-name';
import { colorwaySchema, type Colorway } from '../core/stages/ink/settings';

export const USAGE = `usage: kenosis cut IN -o OUT.png|webp|avif|tif|gif|jpg|svg|pdf|ico
       kenosis cut IN... -o FOLDER [--jobs N]
         [--page N] [--drawn-dpi N] [--sample X,Y[,TOLERANCE[,joined|everywhere]]]...
         [--keep X,Y]... [--marks FILE] [--enclosed keep|clear|ask] [--sure] [--explain]
         [--method color|ink] [--channel NAME|best] [--ink #RRGGBB] [--light]
         [--colorway NAME=#RRGGBB]... [--auto-crop] [--auto-straighten]
         ${stageUsage().join(' ')}
         ${OUTPUT_USAGE}
         [--cut CUT.json] [--save-cut CUT.json] [--report REPORT.json] [--damaged refuse|accept]
       kenosis check FILE [--page N] [--background #RRGGBB]... [--ignore KIND]... [--report REPORT.json] [--damaged refuse|accept]

  kenosis cut clears the background of the picture IN (${inputNames('or')}) and writes
  OUT in the format that its name ends with, read back and compared: straight alpha, the size of IN unless it is cropped,
  straightened or resized. Without --sample and --cut the picture is looked at and a complete cut is proposed.
  - stands for standard input as IN, FILE or CUT.json, and for standard output as OUT.png, CUT.json or REPORT.json. Nothing that
  is read is ever written over. Several pictures go into a folder, as NAME-cutout.png or as the files of a set, with the same
  options for all of them.

  --page N              which page or frame of IN, where it has several
  --drawn-dpi N         the resolution at which a page without pixels (SVG, PDF) is read; without it that of the scan that fills
                        it, or 300

  --sample X,Y[,T[,R]]  a place of background in pixels of IN. Without T it is a fact for the decision on the whole
                        picture; with T, a tolerance from 0 to 100, everything within it goes that R reaches: joined
                        (default) or everywhere
  --keep X,Y            a place that must stay although it looks like the background
  --marks FILE          strokes over what stays and what goes: {"stays": [{"radiusPx": 8, "points": [[x, y], ...]}],
                        "goes": [...]} in pixels of IN; with them busy pictures are cut too
  --enclosed A          all enclosed areas that look like the background: keep or clear them, or ask: then nothing is
                        written where one is not sure (exit code 4)
  --sure                writes nothing where it is not sure what is background (exit code 4)
  --method M            how to clear: ink reads writing on paper, color takes samples (without it: what the picture is
                        found to be)
  --channel C           what ink is read from: best (default), luminance, red, green, blue, red-green, yellow-blue
  --ink #RRGGBB         gives all that stays one color
  --light               mirrors lightness, for dark backings
  --colorway NAME=#RRGGBB  also writes OUT-NAME.png in that color; may be given several times
  --auto-crop           crops to the writing with a margin
  --auto-straighten     lays the writing level where that is sure; without these two, OUT lies exactly over IN unless
                        the given cut says otherwise
  --explain             prints why the proposed cut is as it is
${stageHelp(24).join('\n')}
${OUTPUT_HELP}
  --cut FILE            the cut to apply; samples given beside it are added to it
  --save-cut FILE       writes the cut that was applied
  --report FILE         writes sizes, timings, memory, shares and findings with their places as JSON
  --jobs N              so many pictures at a time (without it: as many as there are processors)
  --damaged D           a picture whose data break off or contradict themselves: refuse it (default), or accept what can
                        be read of it

  kenosis check reads a finished picture FILE (PNG, WebP, TIFF, JPEG) for residue, specks, pinholes, halo, stair-steps,
  hidden color and a subject that touches the frame, prints a line for each finding, and changes nothing.

  --background #RRGGBB  what stood behind the subject before, toward which a halo is looked for; may be given several times
                        (without it: white and black)
  --ignore KIND         leaves a kind of finding out: ${KINDS_IN_FILES.join(', ')}
  --report FILE         writes the findings with their places as JSON
  --damaged D           as above

  exit codes: 0 done, nothing found; 1 failed; 2 wrong arguments; 3 check found something; 4 not sure`;

export interface SampleArgument {
  readonly x: number;
  readonly y: number;
  /** Null: the picture as a whole decides. */
  readonly tolerance: number | null;
  readonly reach: Reach;
}

export interface CutArguments {
  readonly command: 'cut';
  readonly input: string;
  readonly output: string;
  readonly samples: readonly SampleArgument[];
  /** Places that must stay. */
  readonly keeps: readonly { readonly x: number; readonly y: number }[];
  /** A file of strokes over what stays and what goes. */
  readonly marksFile: string | null;
  /** What becomes of enclosed areas; null: as decided. */
  readonly enclosed: 'keep' | 'clear' | 'ask' | null;
  readonly sure: boolean;
  readonly explain: boolean;
  /** Numbers of stages that were given; they replace those of the cut. */
  readonly settings: GivenSettings;
  /** Null: what the picture is found to be. */
  readonly method: 'color' | 'ink' | null;
  /** Null: the best. */
  readonly channel: Channel | null;
  /** One color for all, `#rrggbb`. */
  readonly ink: string | null;
  readonly light: boolean;
  readonly colorways: readonly Colorway[];
  readonly autoCrop: boolean;
  readonly autoStraighten: boolean;
  readonly cutFile: string | null;
  readonly saveCutFile: string | null;
  readonly reportFile: string | null;
  readonly damaged: DamagePolicy;
  readonly pages: PageWishes;
  /** How the file is made, or the files of a set; then `output` is a folder. */
  readonly wishes: OutputWishes;
}

/** Which page of a file is meant; null where nobody said. */
export interface PageWishes {
  readonly number: number | null;
  /** How fine a page without pixels is read. */
  readonly dpi: number | null;
}

/** The same for several pictures, which go into one folder. */
export interface CutManyArguments {
  readonly command: 'cut-many';
  readonly folder: string;
  readonly pictures: readonly CutArguments[];
  /** How many at a time; null: as many as there are processors. */
  readonly jobs: number | null;
}

export interface CheckArguments {
  readonly command: 'check';
  readonly input: string;
  /** What may have stood behind the subject, `#rrggbb`. */
  readonly backgrounds: readonly string[];
  readonly ignored: readonly FindingKind[];
  readonly reportFile: string | null;
  readonly damaged: DamagePolicy;
  readonly pages: PageWishes;
}

/** Reads the arguments of `kenosis cut` and `kenosis check`. Throws `bad-argument`. */
export function readArguments(args: readonly string[]): CutArguments | CutManyArguments | CheckArguments {
  const [command, ...rest] = args;
  return command === 'check' ? readCheck(rest) : readCut(rest);
}

function readCheck(rest: string[]): CheckArguments {
  const { values, positionals } = parseOptions(rest, {
    background: { type: 'string', multiple: true },
    ignore: { type: 'string', multiple: true },
    report: { type: 'string' },
    damaged: { type: 'string' },
    page: { type: 'string' },
    'drawn-dpi': { type: 'string' },
  });
  if (positionals.length !== 1) throw badArgument('FILE', 'one picture', `${positionals.length}`);
  const ignored = (values.ignore ?? []).map((text) => {
    const kind = KINDS_IN_FILES.find((one) => one === text);
    if (!kind) throw badArgument('--ignore', `one of ${KINDS_IN_FILES.join(', ')}`, text);
    return kind;
  });
  return {
    command: 'check',
    input: positionals[0]!,
    backgrounds: (values.background ?? []).map((text) => readColor('--background', text)),
    ignored,
    reportFile: values.report ?? null,
    damaged: readDamaged(values.damaged),
    pages: readPages(values),
  };
}

function readPages(values: { readonly page?: string; readonly 'drawn-dpi'?: string }): PageWishes {
  const { page, 'drawn-dpi': dpi } = values;
  if (page !== undefined && !(isWhole(page) && Number(page) > 0))
    throw badArgument('--page', 'a number from 1 on', page);
  if (dpi !== undefined && !(isWhole(dpi) && Number(dpi) > 0 && Number(dpi) <= PAGE_WIDTH_PX.max))
    throw badArgument('--drawn-dpi', 'a whole number', dpi);
  return { number: page === undefined ? null : Number(page), dpi: dpi === undefined ? null : Number(dpi) };
}

function readCut(rest: string[]): CutArguments | CutManyArguments {
  const { values, positionals } = parse(rest);
  const { output } = values;
  if (positionals.length === 0) throw badArgument('IN', 'one picture or several', 'none');
  if (!output) throw badArgument('-o', 'the name of the file to write', 'nothing');
  const wishes = readOutputWishes(values);
  const format = output === STANDARD ? 'png' : formatOfName(output);
  if (wishes.set !== null && format) throw badArgument('-o', 'a folder for the files of a set', output);
  // Whatever was said for another format is refused before anything is read.
  if (format) outputOf(format, wishes);
  const isFile = format !== null;
  if (isFile && positionals.length > 1)
    throw badArgument('-o', `a folder for ${positionals.length} pictures`, output);
  if (isFile && values.jobs) throw badArgument('--jobs', 'several pictures and a folder', output);
  if (isFile || (wishes.set !== null && positionals.length === 1))
    return readOne(values, positionals[0]!, output);
  if (positionals.includes(STANDARD)) throw badArgument('IN', 'named pictures for a folder', STANDARD);
  if (positionals.length > 1 && (values['save-cut'] || values.report))
    throw badArgument('--save-cut and --report', 'one picture', `${positionals.length}`);
  const pictures = positionals.map((input) =>
    readOne(
      values,
      input,
      wishes.set === null ? path.join(output, proposedFileName(path.basename(input))) : output,
    ),
  );
  return { command: 'cut-many', folder: output, pictures, jobs: readJobs(values.jobs) };
}

function readOne(values: ReturnType<typeof parse>['values'], input: string, output: string): CutArguments {
  if (output === STANDARD && values.colorway)
    throw badArgument('--colorway', 'a named OUT.png beside it, which the others are named by', '-o -');
  if (values.explain && (values.sample || values.cut))
    throw badArgument('--explain', 'a proposed cut, so neither --sample nor --cut', 'one of them');
  return {
    command: 'cut',
    input,
    output,
    samples: (values.sample ?? []).map(readSample),
    keeps: (values.keep ?? []).map(readPlace),
    marksFile: values.marks ?? null,
    enclosed: readEnclosed(values.enclosed),
    sure: values.sure ?? false,
    explain: values.explain ?? false,
    settings: readSettings(values),
    ...readInkOptions(values),
    cutFile: values.cut ?? null,
    saveCutFile: values['save-cut'] ?? null,
    reportFile: values.report ?? null,
    damaged: readDamaged(values.damaged),
    pages: readPages(values),
    wishes: readOutputWishes(values),
  };
}

function readInkOptions(values: ReturnType<typeof parse>['values']) {
  const { method, channel, ink } = values;
  const way: 'color' | 'ink' | null = method === 'color' || method === 'ink' ? method : null;
  if (method !== undefined && way === null) throw badArgument('--method', 'color or ink', method);
  const known = channel === undefined || channel === 'best' ? null : channelSchema.safeParse(channel);
  if (known && !known.success)
    throw badArgument('--channel', `best or one of ${channelSchema.options.join(', ')}`, channel);
  if (channel !== undefined && method !== 'ink')
    throw badArgument('--channel', '--method ink beside it', method ?? 'nothing');
  if (method === 'color' && (values['auto-crop'] || values['auto-straighten']))
    throw badArgument('--auto-crop and --auto-straighten', 'writing, so not --method color', 'color');
  if (values.cut && (method || values['auto-crop'] || values['auto-straighten']))
    throw badArgument('--method, --auto-crop, --auto-straighten', 'a proposed cut, so not --cut', 'it');
  if (values.sample && (method === 'ink' || values['auto-crop'] || values['auto-straighten']))
    throw badArgument(
      '--sample',
      'no --method ink, --auto-crop or --auto-straighten beside it',
      'one of them',
    );
  if (values.marks && (method === 'ink' || values['auto-crop'] || values['auto-straighten']))
    throw badArgument(
      '--marks',
      'no --method ink, --auto-crop or --auto-straighten beside it',
      'one of them',
    );
  const colorways = (values.colorway ?? []).map(readColorway);
  const twice = colorways.find(
    ({ name }, k) => colorways.findIndex((one) => sameColorway(one.name, name)) !== k,
  );
  if (twice) throw badArgument('--colorway', 'each name once', twice.name);
  return {
    method: way,
    channel: known?.data ?? null,
    ink: ink === undefined ? null : readColor('--ink', ink),
    light: values.light ?? false,
    colorways,
    autoCrop: values['auto-crop'] ?? false,
    autoStraighten: values['auto-straighten'] ?? false,
  };
}

function readDamaged(text: string | undefined): DamagePolicy {
  if (text === undefined || text === 'refuse' || text === 'accept') return text ?? 'refuse';
  throw badArgument('--damaged', 'refuse or accept', text);
}

function readEnclosed(text: string | undefined): CutArguments['enclosed'] {
  if (text === undefined) return null;
  if (text === 'keep' || text === 'clear' || text === 'ask') return text;
  throw badArgument('--enclosed', 'keep, clear or ask', text);
}

function readColor(option: string, text: string): string {
  const color = text.toLowerCase();
  if (!/^#[0-9a-f]{6}$/.test(color)) throw badArgument(option, 'a color like #1d2a6b', text);
  return color;
}

function readColorway(text: string): Colorway {
  const at = text.lastIndexOf('=');
  const name = text.slice(0, Math.max(0, at));
  const found = colorwaySchema.safeParse({ name, color: readColor('--colorway', text.slice(at + 1)) });
  if (!found.success) throw badArgument('--colorway', 'NAME=#RRGGBB, NAME of letters and digits', text);
  return found.data;
}

const parse = (args: string[]) =>
  parseOptions(args, {
    ...stageOptions(),
    ...OUTPUT_OPTIONS,
    page: { type: 'string' },
    'drawn-dpi': { type: 'string' },
    output: { type: 'string', short: 'o' },
    sample: { type: 'string', multiple: true },
    keep: { type: 'string', multiple: true },
    marks: { type: 'string' },
    enclosed: { type: 'string' },
    sure: { type: 'boolean' },
    explain: { type: 'boolean' },
    cut: { type: 'string' },
    method: { type: 'string' },
    channel: { type: 'string' },
    ink: { type: 'string' },
    light: { type: 'boolean' },
    colorway: { type: 'string', multiple: true },
    'auto-crop': { type: 'boolean' },
    'auto-straighten': { type: 'boolean' },
    'save-cut': { type: 'string' },
    report: { type: 'string' },
    jobs: { type: 'string' },
    damaged: { type: 'string' },
  });

function parseOptions<const T extends NonNullable<ParseArgsConfig['options']>>(args: string[], options: T) {
  try {
    return parseArgs({ args: withNegatives(args), allowPositionals: true, options });
  } catch (cause) {
    throw new KenosisError('bad-argument', (cause as Error).message, { cause });
  }
}

/** A number below 0 is no option: it is tied to the option before it. */
function withNegatives(args: readonly string[]): string[] {
  const tied: string[] = [];
  for (const argument of args) {
    if (/^-\d/.test(argument) && tied.at(-1)?.startsWith('--')) tied.push(`${tied.pop()}=${argument}`);
    else tied.push(argument);
  }
  return tied;
}

function readPlace(text: string): { x: number; y: number } {
  const [x, y, ...rest] = text.split(',');
  if (!isWhole(x) || !isWhole(y) || rest.length > 0) throw badArgument('--keep', 'X,Y', text);
  return { x: Number(x), y: Number(y) };
}

function readSample(text: string): SampleArgument {
  const parts = text.split(',');
  const [x, y, tolerance, reach] = parts;
  if (parts.length < 2 || parts.length > 4 || !isWhole(x) || !isWhole(y)) {
    throw badArgument('--sample', 'X,Y[,TOLERANCE[,joined|everywhere]]', text);
  }
  const { min, max } = TOLERANCE;
  if (tolerance !== undefined && !(/^\d+(\.\d+)?$/.test(tolerance) && Number(tolerance) <= max)) {
    throw badArgument('--sample tolerance', `${min} to ${max}`, tolerance);
  }
  const known = reachSchema.safeParse(reach ?? 'joined');
  if (!known.success) throw badArgument('--sample reach', 'joined or everywhere', reach);
  return {
    x: Number(x),
    y: Number(y),
    tolerance: tolerance === undefined ? null : Number(tolerance),
    reach: known.data,
  };
}

function isWhole(text: string | undefined): boolean {
  return text !== undefined && /^\d{1,9}$/.test(text);
}
