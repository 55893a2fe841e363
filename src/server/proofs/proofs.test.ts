import { mkdtemp, readFile, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { ReadableStream as NodeStream } from 'node:stream/web';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { asSharp } from '../../../tests/make/files';
import { letterPdf } from '../../../tests/make/letters';
import { paint } from '../../../tests/make/pictures';
import { FIRST_GROUNDS, newProof } from '../../core/proof/first-proof';
import type { Ground, Placement } from '../../core/proof/settings';
import { deliveriesInUse } from '../../storage/deliveries';
import { addRevision, currentCut, setTrashed, type Piece } from '../../storage/pieces';
import {
  addProof,
  addProofStep,
  changeProof,
  getProof,
  groundsInUse,
  listProofs,
  moveProof,
  proofFiles,
} from '../../storage/proofs';
import { openHouse } from '../house';
import { importPiece } from '../import-piece';
import type { House } from '../rooms';
import { setAsideUnnamed } from '../housekeeping';
import { emptyTrash } from '../trash';
import { groundFactsOf, groundPictureOf } from './ground-files';
import { handOver, seenOnGround } from './hand-over';
import { bringPdf, copyProof, forgetProof, proofByTemplate, proofOfPiece, templateOf } from './make-proofs';
import { openProof } from './open-proof';
import { placedPictureOf } from './placed-picture';

let house: House;
let folder: string;
let mark: Piece;

const stream = (bytes: Uint8Array) => Readable.toWeb(Readable.from([bytes])) as NodeStream<Uint8Array>;
const bringPiece = async (name: string, color: readonly [number, number, number]) => {
  const picture = paint(240, 140, (x, y) => {
    const inside = Math.min(1, Math.max(0, 50.5 - Math.hypot((x - 120) / 1.6, y - 70)));
    const mix = (own: number) => Math.round(255 + (own - 255) * inside);
    return [mix(color[0]), mix(color[1]), mix(color[2])];
  });
  return (await importPiece(house, name, stream(await asSharp(picture).png().toBuffer()))).piece;
};

beforeAll(async () => {
  folder = await mkdtemp(path.join(tmpdir(), 'kenosis-proofs-'));
  house = await openHouse(folder);
  mark = await bringPiece('mark.png', [20, 40, 110]);
});
afterAll(() => house.close());

const onLetter = (
  placed: Partial<Placement>[],
  source: Ground['source'] = { kind: 'shipped', which: 'letter-a4' },
) =>
  newProof([
    {
      id: 'g1',
      source,
      placed: placed.map((more, k) => ({
        id: `p${k + 1}`,
        piece: mark.id,
        colorway: null,
        light: false,
        anchor: 'top-left',
        x: 60,
        y: 220,
        width: 40,
        angleDeg: 0,
        opacity: 100,
        blend: 'normal',
        ...more,
      })),
    },
  ]);

const contentOf = async (sha256: string) => readFile(house.files.pathOf('deliveries', sha256));

describe('proofs in the house', () => {
  it('are made of a piece on the grounds that people look at first, and opened with all that is known', async () => {
    const { id } = await proofOfPiece(house, mark.id);
    const opened = await openProof(house, id);
    expect(opened.state.proof.grounds).toHaveLength(FIRST_GROUNDS.length);
    expect(opened.pieces[mark.id]).toMatchObject({ name: 'mark.png', colorways: [] });
    const [letter, header] = opened.state.proof.grounds;
    expect(opened.grounds[letter!.id]).toMatchObject({ unit: 'mm', isPage: true });
    expect(opened.grounds[header!.id]).toMatchObject({ unit: 'px', width: 1440, height: 480 });
    // The letterhead has a line, and the piece lies on it.
    expect(letter!.placed[0]).toMatchObject({ anchor: 'line', piece: mark.id });
    await forgetProof(house, id);
    await expect(getProof(house.database, id)).rejects.toMatchObject({ code: 'not-found' });
  });

  it('go back and forth between steps, also after they were opened anew, and refuse a step that came too late', async () => {
    const { id } = await addProof(house.database, { name: 'Steps', proof: onLetter([{}]) });
    const one = await addProofStep(house.database, id, {
      after: 0,
      label: 'move a piece',
      proof: onLetter([{ x: 10 }]),
    });
    const two = await addProofStep(house.database, id, {
      after: one.step,
      label: 'turn a piece',
      proof: onLetter([{ x: 10, angleDeg: 5 }]),
    });
    expect(two).toMatchObject({ undo: 'turn a piece', redo: null });
    await expect(
      addProofStep(house.database, id, { after: one.step, label: 'x', proof: onLetter([]) }),
    ).rejects.toMatchObject({ code: 'conflict' });
    const back = await moveProof(house.database, id, 'undo');
    expect(back.proof).toEqual(onLetter([{ x: 10 }]));
    expect(back).toMatchObject({ undo: 'move a piece', redo: 'turn a piece' });
    expect((await moveProof(house.database, id, 'redo')).proof).toEqual(two.proof);
    await moveProof(house.database, id, 'undo');
    await moveProof(house.database, id, 'undo');
    await expect(moveProof(house.database, id, 'undo')).rejects.toMatchObject({ code: 'nothing-to-undo' });
    const other = await addProofStep(house.database, id, {
      after: 0,
      label: 'lay a piece',
      proof: onLetter([{}, {}]),
    });
    expect(other.redo).toBeNull();
    await expect(moveProof(house.database, id, 'redo')).rejects.toMatchObject({ code: 'nothing-to-redo' });
    const renamed = await changeProof(house.database, id, { name: 'Other', seen: { [mark.id]: 3 } });
    expect(renamed).toMatchObject({ name: 'Other', seen: { [mark.id]: 3 } });
    const copy = await copyProof(house, id);
    expect(copy).toMatchObject({ name: 'Other, copy', proof: other.proof });
    expect((await listProofs(house.database)).map(({ name }) => name)).toContain('Other, copy');
  });

  it('hand a page over as the PDF itself: its bytes first, the piece where it was placed', async () => {
    const { id } = await addProof(house.database, { name: 'Letter', proof: onLetter([{}]) });
    const file = await handOver(house, id, { ground: 'g1', format: 'pdf', dpi: 300, placement: null });
    expect(file).toMatchObject({ fileName: 'Letter, Letter, A4.pdf', format: 'pdf' });
    expect(file.findings.page).toMatchObject({ beside: 0 });
    const before = await readFile(path.resolve('grounds/letter-a4.pdf'));
    const bytes = await contentOf(file.sha256);
    expect(Buffer.compare(bytes.subarray(0, before.length), before)).toBe(0);
    expect((await proofFiles(house.database, id))[0]).toEqual(file);
    expect((await deliveriesInUse(house.database)).has(file.sha256)).toBe(true);
    await setAsideUnnamed(house);
    expect(await house.files.has('deliveries', file.sha256)).toBe(true);
    await forgetProof(house, id);
    expect(await house.files.has('deliveries', file.sha256)).toBe(false);
  });

  it('hand a page over as a picture at its resolution, like the PDF of it', async () => {
    const { id } = await addProof(house.database, {
      name: 'Card',
      proof: onLetter([{ x: 10, y: 10, width: 30 }], { kind: 'shipped', which: 'card' }),
    });
    const png = await handOver(house, id, { ground: 'g1', format: 'png', dpi: 200, placement: null });
    const facts = await sharp(await contentOf(png.sha256)).metadata();
    expect(facts).toMatchObject({
      width: Math.round((85 / 25.4) * 200),
      height: Math.round((55 / 25.4) * 200),
      density: 200,
    });
    const jpeg = await handOver(house, id, { ground: 'g1', format: 'jpeg', dpi: 100, placement: null });
    expect((await sharp(await contentOf(jpeg.sha256)).metadata()).format).toBe('jpeg');
    const { data, info } = await sharp(await contentOf(png.sha256))
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const at = (x: number, y: number) => [
      ...data
        .subarray((Math.round((y / 25.4) * 200) * info.width + Math.round((x / 25.4) * 200)) * 3)
        .subarray(0, 3),
    ];
    expect(at(25, 18)).toEqual([20, 40, 110]);
    expect(at(60, 5)).toEqual([255, 255, 255]);
  });

  it('hand a piece over alone, exactly as large as it lies there', async () => {
    const { id } = await addProof(house.database, { name: 'Alone', proof: onLetter([{ width: 52 }]) });
    const file = await handOver(house, id, { ground: 'g1', format: 'piece', dpi: 300, placement: 'p1' });
    expect(file.fileName).toBe('mark-52mm-300dpi.png');
    const facts = await sharp(await contentOf(file.sha256)).metadata();
    expect(facts).toMatchObject({ width: Math.round((52 / 25.4) * 300), density: 300, hasAlpha: true });
    await expect(
      handOver(house, id, { ground: 'g1', format: 'piece', dpi: 300, placement: 'p9' }),
    ).rejects.toMatchObject({ code: 'not-found' });
    await expect(
      handOver(house, id, { ground: 'g9', format: 'png', dpi: 300, placement: null }),
    ).rejects.toMatchObject({ code: 'not-found' });
  });

  it('follow the cut that is in force', async () => {
    const own = await bringPiece('follows.png', [150, 20, 30]);
    const { cut, revision } = await currentCut(house.database, own.id);
    const look = { colorway: null, light: false };
    const before = await placedPictureOf(house, own.id, { revision, look, mostPx: 400 });
    const inked = {
      ...cut,
      ink: { ...cut.ink, color: '#00aa00', colorways: [{ name: 'navy', color: '#1d3557' }] },
    };
    const next = await addRevision(house.database, own.id, revision, inked, 'ink');
    const after = await placedPictureOf(house, own.id, { revision: next.revision, look, mostPx: 400 });
    expect(Buffer.compare(before.bytes, after.bytes)).not.toBe(0);
    expect([after.width, after.height]).toEqual([before.width, before.height]);
    const navy = await placedPictureOf(house, own.id, {
      revision: next.revision,
      look: { colorway: 'navy', light: false },
      mostPx: 400,
    });
    const { data } = await sharp(navy.bytes).raw().toBuffer({ resolveWithObject: true });
    const middle = (Math.floor(navy.height / 2) * navy.width + Math.floor(navy.width / 2)) * 4;
    expect([...data.subarray(middle, middle + 4)]).toEqual([29, 53, 87, 255]);
  });

  it('say what shows: contrast on dark and light, pixels, and the version that can be read', async () => {
    const dark: Ground['source'] = {
      kind: 'color',
      from: '#101820',
      to: null,
      angleDeg: 0,
      width: 900,
      height: 500,
    };
    const { id } = await addProof(house.database, {
      name: 'Seen',
      proof: onLetter([{ x: 100, y: 100, width: 200 }], dark),
    });
    const [seen] = await seenOnGround(house, id, 'g1');
    expect(seen!.placement).toBe('p1');
    expect(seen!.contrast!.median).toBeLessThan(2);
    expect(seen!.readable[0]).toMatchObject({ look: { light: true } });
    const remark = seen!.remarks.find(({ kind }) => kind === 'contrast')!;
    expect(remark.fix).toMatchObject({ kind: 'look', look: { light: true } });
    const light = await addProof(house.database, { name: 'Seen', proof: onLetter([{ width: 20 }]) });
    const [fine] = await seenOnGround(house, light.id, 'g1');
    expect(fine!.contrast!.median).toBeGreaterThan(8);
    expect(fine!.remarks).toEqual([]);
    const large = await addProof(house.database, {
      name: 'Seen',
      proof: onLetter([{ x: 5, y: 5, width: 190 }]),
    });
    expect((await seenOnGround(house, large.id, 'g1'))[0]!.remarks).toMatchObject([{ kind: 'pixels' }]);
  });

  it('take PDFs in as grounds, whole or not at all, and let go of those that nothing names', async () => {
    const bytes = await letterPdf({ pages: 3, line: { x: 80, y: 150, width: 170 } });
    const { source, facts } = await bringPdf(house, 'my letter.pdf', stream(bytes));
    expect(facts).toMatchObject({ pages: 3, number: 1, name: 'my letter.pdf, page 1', isSigned: false });
    expect(facts.line!.x).toBeCloseTo((80 * 25.4) / 72, 0);
    const { id } = await addProof(house.database, { name: 'PDF', proof: onLetter([{}], source) });
    const file = await handOver(house, id, { ground: 'g1', format: 'pdf', dpi: 300, placement: null });
    expect(file.fileName).toBe('my letter-placed.pdf');
    const picture = await groundPictureOf(house, source, 300);
    expect((await sharp(picture.bytes).metadata()).width).toBe(300);
    for (const [name, wrong, code] of [
      ['empty.pdf', new Uint8Array(), 'empty-file'],
      ['words.pdf', new TextEncoder().encode('no pdf'), 'bad-pdf'],
      ['cut.pdf', bytes.subarray(0, 300), 'bad-pdf'],
    ] as const)
      await expect(bringPdf(house, name, stream(wrong))).rejects.toMatchObject({ code });
    const key = source.kind === 'pdf' ? source.file : '';
    expect([...(await groundsInUse(house.database))]).toEqual([key]);
    expect((await stat(house.files.pathOf('grounds', key))).size).toBe(bytes.length);
    await setAsideUnnamed(house);
    expect(await house.files.has('grounds', key)).toBe(true);
    await forgetProof(house, id);
    expect(await house.files.has('grounds', key)).toBe(false);
    await expect(groundFactsOf(house, { ...source, page: 2 } as Ground['source'])).rejects.toMatchObject({
      code: 'not-found',
    });
  });

  it('refuse to change a signed PDF, and hand it over as a picture', async () => {
    const { source, facts } = await bringPdf(
      house,
      'signed.pdf',
      stream(await letterPdf({ field: 'signed' })),
    );
    expect(facts.isSigned).toBe(true);
    const { id } = await addProof(house.database, { name: 'Signed', proof: onLetter([{}], source) });
    const wanted = { ground: 'g1', dpi: 72, placement: null } as const;
    await expect(handOver(house, id, { ...wanted, format: 'pdf' })).rejects.toMatchObject({
      code: 'forbidden',
    });
    expect(await handOver(house, id, { ...wanted, format: 'png' })).toMatchObject({ format: 'png' });
  });

  it('keep the place of a signature as a template, for the next letter', async () => {
    const first = await bringPdf(
      house,
      'first.pdf',
      stream(await letterPdf({ pages: 2, line: { x: 90, y: 240, width: 160 } })),
    );
    const source = { ...first.source, page: 2 } as Ground['source'];
    const { id } = await addProof(house.database, {
      name: 'First',
      proof: onLetter([{ anchor: 'line', x: 4, y: 1 }], source),
    });
    const template = await templateOf(house, id, 'My letter');
    expect(template).toMatchObject({ name: 'My letter', isTemplate: true });
    // It was the last page, and is again.
    expect(template.proof.grounds[0]!.source).toMatchObject({ page: null });
    const next = await letterPdf({ pages: 4, line: { x: 200, y: 300, width: 160 } });
    const made = await proofByTemplate(house, template.id, 'next.pdf', stream(next));
    expect(made).toMatchObject({ name: 'next', isTemplate: false });
    const opened = await openProof(house, made.id);
    expect(opened.grounds.g1).toMatchObject({ number: 4, pages: 4 });
    expect(opened.state.proof.grounds[0]!.placed[0]).toMatchObject({ anchor: 'line', x: 4 });
    expect(
      await handOver(house, made.id, { ground: 'g1', format: 'pdf', dpi: 300, placement: null }),
    ).toMatchObject({ fileName: 'next-placed.pdf' });
    const short = await proofByTemplate(house, template.id, 'short.pdf', stream(await letterPdf()));
    expect((await openProof(house, short.id)).grounds.g1).toMatchObject({ number: 1 });
    await expect(proofByTemplate(house, id, 'x.pdf', stream(next))).rejects.toThrow('is no template');
    const empty = await addProof(house.database, { name: 'Empty' });
    await expect(templateOf(house, empty.id, 'None')).rejects.toThrow('this proof has none');
  });

  it('say so where a piece was deleted, and write nothing', async () => {
    const gone = await bringPiece('gone.png', [90, 120, 10]);
    const { id } = await addProof(house.database, { name: 'Gone', proof: onLetter([{ piece: gone.id }]) });
    await setTrashed(house.database, [gone.id], true);
    await emptyTrash(house);
    await expect(
      handOver(house, id, { ground: 'g1', format: 'png', dpi: 72, placement: null }),
    ).rejects.toThrow('A piece that lies on this ground was deleted');
    expect((await openProof(house, id)).pieces).toEqual({});
  });
});
