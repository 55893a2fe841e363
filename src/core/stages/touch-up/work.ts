import { partOf, type Work } from '../work';
import { mendInto, spotsOf, surroundingsOf, type Spot } from './touch-up';

/** Mends at single places. */
export const TOUCH_UP_WORK: Work<readonly Spot[]> = {
  keeps: true,
  ready({ scene, cut }) {
    const spots = spotsOf(cut, scene.reduction);
    return spots.length === 0 ? null : spots;
  },
  around: (spots, rect, { scene }) => surroundingsOf(spots, rect, scene.raster),
  into(spots, before, wide, rect, out, { scene }) {
    mendInto(partOf(before, wide), wide, rect, out, spots, scene.raster, scene.reduction);
  },
};
