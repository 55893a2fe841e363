import type { Scratch } from '../../numeric/scratch';
import type { Rect } from '../../raster/raster';
import type { Rgb } from '../clear/sample-color';

/** The modelled backdrop's color over a part of a picture, computed once a pixel, when it is first asked for. */
export class BackdropPlane {
  /** Red, green and blue of the pixels that `at` was asked for, 0 to 255. */
  readonly colors: Float64Array;
  private readonly known: Uint8Array;

  /** `colorAt` tells the color at a place of the picture, of which `around` is a part. The plane lies in `scratch`. */
  constructor(
    private readonly colorAt: (x: number, y: number) => Rgb,
    private readonly around: Rect,
    scratch: Scratch,
  ) {
    const pixels = around.width * around.height;
    this.colors = scratch.doubles('backdrop colors', 3 * pixels);
    this.known = scratch.zeroed('backdrop known', pixels);
  }

  /** Where in `colors` that of pixel `i` of the part begins. */
  at(i: number): number {
    const from = 3 * i;
    if (this.known[i] === 1) return from;
    this.known[i] = 1;
    const { around, colors } = this;
    const x = i % around.width;
    const { red, green, blue } = this.colorAt(around.x + x, around.y + (i - x) / around.width);
    colors[from] = red;
    colors[from + 1] = green;
    colors[from + 2] = blue;
    return from;
  }
}
