import { open } from 'node:fs/promises';
import path from 'node:path';
import { formatAt } from '../codec/inspect';
import { badArgument, isKenosisError, KenosisError } from '../core/errors';
import { wordsOf } from '../core/system-words';
import { ONLY_PAGE } from '../core/cut/page';
import { runToEnd } from '../core/numeric/steps';
import { edgeContrast } from '../core/proof/contrast';
import { drawnSteps } from '../core/proof/lay';
import { boxOf, type Surface } from '../core/proof/place';
import { finenessOf, LEAST_CONTRAST, LEAST_PRINT_DPI } from '../core/proof/seen';
import type { Raster } from '../core/raster/raster';
import { drawGround, groundFacts, type GroundFile } from '../engine/node/grounds';
import { layersOf, writeProof, type Laid, type WrittenProof } from '../engine/node/write-proof';
import { assertDistinct } from './distinct-files';
import { loadPicture } from './input';
import { readyPlace, STANDARD, writeWhole } from './output';
import type { Length, PlaceArguments } from './place-args';

/** As people sign: so wide, so far from the lower right corner. */
const USUAL_MM = { width: 52, x: 20, y: 40 } as const;
const USUAL_SHARE = { width: 1 / 3, inset: 0.04 } as const;

/** So fine a page is read to tell how well the piece can be seen on it. */
const MEASURED_DPI = 150;
const MM_PER_INCH = 25.4;

/** Runs `kenosis place`. Returns the line to print, and what is to be said of it. Throws `KenosisError`; then nothing was written. */
export async function placeCommand(
  args: PlaceArguments,
): Promise<{ readonly lines: string[]; readonly notes: readonly string[] }> {
  for (const [option, file] of [
    ['CUTOUT', args.cutout],
    ['--on', args.on],
    ['-o', args.output],
  ] as const)
    if (file === STANDARD) throw badArgument(option, 'a named file', STANDARD);
  await assertDistinct(
    [
      { option: 'CUTOUT', file: args.cutout },
      { option: '--on', file: args.on },
    ],
    [{ option: '-o', file: args.output }],
  );
  await readyPlace(args.output);
  const { original: cutout, notes } = await loadPicture(args.cutout, {
    damaged: 'refuse',
    pages: { number: null, dpi: null },
  });
  assertTransparent(cutout, args);
  const ground = await groundOf(args);
  if (args.format === 'pdf' && ground.kind !== 'page')
    throw badArgument('-o', 'a name that ends with .png or .jpg for a picture', args.output);
  const { unit, line, pages, isSigned, ...size } = await groundFacts(ground);
  if (args.page === null && pages > 1)
    throw new KenosisError(
      'bad-argument',
      `--page: "${path.basename(args.on)}" has ${pages} pages; name one: --page 1 to --page ${pages}, or last`,
    );
  const surface: Surface = { width: size.width, height: size.height, line };
  const laid = laidOf(args, unit, surface);
  const settings = { ground, unit, surface, format: args.format, dpi: args.dpi };
  let written: WrittenProof | null = null;
  await writeWhole(args.output, async (outPath) => {
    written = await writeProof({ ...settings, outPath }, [laid], [cutout]);
  });
  const seen = await seenOn(ground, unit, surface, laid, cutout);
  const box = boxOf(laid, cutout.height / cutout.width, surface);
  const where = ground.kind === 'page' ? ` on page ${size.number}` : '';
  const fine = finenessOf(cutout.width, box.width, unit);
  return {
    lines: [
      `${args.output}: ${numberOf(box.width)} x ${numberOf(box.height)} ${unit} at ${numberOf(box.x)}, ${numberOf(box.y)} ${unit}${where}, ${unit === 'mm' ? `${Math.round(fine)} dpi` : `${Math.round(100 * fine)} %`}${seen === null ? '' : `, contrast ${seen.toFixed(1)}`}; ${verifiedWords(written!)}`,
    ],
    notes: [
      ...notes,
      ...(seen !== null && seen < LEAST_CONTRAST
        ? [`it is hard to read there: contrast ${seen.toFixed(1)}`]
        : []),
      ...(unit === 'mm' && fine < LEAST_PRINT_DPI
        ? [`it has too few pixels for that size: ${Math.floor(fine)} dpi`]
        : []),
      ...(isSigned && args.format !== 'pdf'
        ? ['the PDF is signed digitally; what was written is a picture of its page']
        : []),
    ],
  };
}

function verifiedWords({ verified, page }: WrittenProof): string {
  if (page)
    return `drawn by ${verified.decoder} it is as it should be, within ${page.mean.toFixed(1)} levels`;
  return `read back by ${verified.decoder}`;
}

function numberOf(value: number): string {
  return String(Math.round(value * 100) / 100);
}

function assertTransparent({ data }: Raster, { cutout, opaque }: PlaceArguments): void {
  if (opaque) return;
  for (let p = 3; p < data.length; p += 4) if (data[p] !== 255) return;
  throw new KenosisError(
    'unsupported-format',
    `"${path.basename(cutout)}" has no transparent parts: its whole box would lie there. Nothing was written. Cut it first (kenosis cut), or say --opaque.`,
  );
}

async function groundOf({ on, page }: PlaceArguments): Promise<GroundFile> {
  const name = path.basename(on);
  try {
    await (await open(on, 'r')).close();
    if ((await formatAt(on)) === 'pdf')
      return { kind: 'page', path: on, name, number: page === 'last' ? null : (page ?? 1) };
  } catch (error) {
    if (isKenosisError(error)) throw error;
    throw new KenosisError('not-found', `"${on}" cannot be read: ${wordsOf(error)}.`, { cause: error });
  }
  if (page !== null) throw badArgument('--page', 'a PDF', name);
  return { kind: 'picture', path: on, name, page: ONLY_PAGE };
}

/** Where the cutout lies, in the ground's unit. */
function laidOf(args: PlaceArguments, unit: 'mm' | 'px', surface: Surface): Laid {
  const isPaper = unit === 'mm';
  const inset = USUAL_SHARE.inset * Math.min(surface.width, surface.height);
  const usual = isPaper ? USUAL_MM : { width: surface.width * USUAL_SHARE.width, x: inset, y: inset };
  const length = (option: string, given: Length | null, otherwise: number) => {
    if (!given) return otherwise;
    if (given.unit !== unit)
      throw badArgument(option, `${unit} on this ground`, `${given.value}${given.unit}`);
    return given.value;
  };
  const width = length('--width', args.width, usual.width);
  const { angleDeg, opacity, blend } = args;
  const look = { width, angleDeg, opacity, blend };
  const { at } = args;
  if (!at) {
    if (surface.line) return { anchor: 'line', x: 0, y: 0, ...look };
    return { anchor: 'bottom-right', x: usual.x, y: usual.y, ...look };
  }
  if (at.anchor === 'line' && !surface.line)
    throw new KenosisError(
      'not-found',
      'No line that is meant for a signature was found on the page. Nothing was written. Say where: --at "right 20mm bottom 40mm".',
    );
  return { anchor: at.anchor, x: length('--at', at.x, 0), y: length('--at', at.y, 0), ...look };
}

/** The contrast along the edge of the cutout where it lies; null where none of it is on the ground. */
async function seenOn(
  ground: GroundFile,
  unit: 'mm' | 'px',
  surface: Surface,
  laid: Laid,
  cutout: Raster,
): Promise<number | null> {
  const perUnit = unit === 'mm' ? MEASURED_DPI / MM_PER_INCH : 1;
  const raster = await drawGround(ground, surface.width * perUnit);
  const [layer] = layersOf([laid], [cutout], surface, raster.width / surface.width);
  return edgeContrast(raster, runToEnd(drawnSteps(layer!, raster)), layer!)?.median ?? null;
}
