import { partOf, widened, type Work } from '../work';
import { colorInto, denserInto, inkingOf, inkMargin, type Inking } from './ink';

/** Other colors, and faint ink made denser. */
export const INK_WORK: Work<Inking> = {
  keeps: false,
  ready: ({ scene, cut }) => inkingOf(cut, scene.reduction),
  around: (inking, rect, { scene }) => widened(rect, scene.raster, inkMargin(inking)),
  into(inking, before, wide, rect, out) {
    if (inking.density > 0) denserInto(partOf(before, wide), wide, rect, out, inking);
    else before.into(rect, out);
    colorInto(out, inking);
  },
};
