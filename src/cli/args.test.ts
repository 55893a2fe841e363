import { describe, expect, it } from 'vitest';
import { readArguments } from './args';

describe('readArguments', () => {
  it('reads everything', () => {
    expect(
      readArguments(
        'cut in.jpg -o out.png --sample 3,4 --sample 5,6,12.5 --sample 7,8,0,everywhere --keep 9,10 --width 4 --spill 80 --offset -0.3 --softness 2 --evenness 50 --firmness 10.5 --cut a.json --save-cut b.json --report r.json'.split(
          ' ',
        ),
      ),
    ).toEqual({
      input: 'in.jpg',
      output: 'out.png',
      samples: [
        { x: 3, y: 4, tolerance: null, reach: 'joined' },
        { x: 5, y: 6, tolerance: 12.5, reach: 'joined' },
        { x: 7, y: 8, tolerance: 0, reach: 'everywhere' },
      ],
      keeps: [{ x: 9, y: 10 }],
      explain: false,
      edge: { widthPx: 4, spill: 80, offsetPx: -0.3, softnessPx: 2, evenness: 50, firmness: 10.5 },
      cutFile: 'a.json',
      saveCutFile: 'b.json',
      reportFile: 'r.json',
    });
  });

  it('asks for an explanation beside nothing else', () => {
    expect(readArguments('cut in.jpg -o out.png --explain --keep 1,2'.split(' ')).explain).toBe(true);
  });

  it.each([
    ['', /command: expected cut/],
    ['glue in.jpg -o out.png', /command: expected cut, got glue/],
    ['cut -o out.png', /IN: expected one picture/],
    ['cut a.jpg b.jpg -o out.png', /IN: expected one picture/],
    ['cut in.jpg', /-o: expected/],
    ['cut in.jpg -o out.jpg', /-o: expected a name ending in .png/],
    ['cut in.jpg -o out.png --sample 3', /--sample: expected X,Y/],
    ['cut in.jpg -o out.png --sample 3.5,4', /--sample: expected X,Y/],
    ['cut in.jpg -o out.png --sample 3,4,140', /tolerance: expected 0 to 100, got 140/],
    ['cut in.jpg -o out.png --sample 3,4,5,nearby', /reach: expected joined or everywhere, got nearby/],
    ['cut in.jpg -o out.png --keep 3', /--keep: expected X,Y, got 3/],
    ['cut in.jpg -o out.png --explain --sample 3,4', /--explain: expected a proposed cut/],
    ['cut in.jpg -o out.png --explain --cut a.json', /--explain: expected a proposed cut/],
    ['cut in.jpg -o out.png --width 0', /--width: expected a whole number from 1 to 12, got 0/],
    ['cut in.jpg -o out.png --width 2.5', /--width: expected a whole number from 1 to 12, got 2.5/],
    ['cut in.jpg -o out.png --spill 101', /--spill: expected 0 to 100, got 101/],
    ['cut in.jpg -o out.png --offset wide', /--offset: expected -20 to 20, got wide/],
    ['cut in.jpg -o out.png --softness 41', /--softness: expected 0 to 40, got 41/],
    ['cut in.jpg -o out.png --evenness=-1', /--evenness: expected 0 to 100, got -1/],
    ['cut in.jpg -o out.png --firmness 1e2', /--firmness: expected 0 to 100, got 1e2/],
    ['cut in.jpg -o out.png --sparkle', /sparkle/],
  ])('refuses "%s"', (line, message) => {
    expect(() => readArguments(line === '' ? [] : line.split(' '))).toThrow(message);
  });
});
