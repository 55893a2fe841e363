import type { Crop } from '../../core/stages/prepare/settings';
import { shownPlace, originalPlace } from '../../core/stages/prepare/shown';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { Handle } from './Handle';

/** What is marked on the sheet while Prepare is open: the crop, a line that is being drawn, the corners of a sheet. */
export function PrepareMarks({ density }: { readonly density: number }) {
  const mode = useBench((state) => state.prepareMode);
  return (
    <>
      {mode !== 'corners' && <CropMarks density={density} handles={mode === 'crop'} />}
      {mode === 'corners' && <CornerMarks density={density} />}
    </>
  );
}

/** A handle: which sides of the rectangle it moves. */
const HANDLES = [
  { name: 'upper left corner', left: 1, top: 1, right: 0, bottom: 0 },
  { name: 'top', left: 0, top: 1, right: 0, bottom: 0 },
  { name: 'upper right corner', left: 0, top: 1, right: 1, bottom: 0 },
  { name: 'right side', left: 0, top: 0, right: 1, bottom: 0 },
  { name: 'lower right corner', left: 0, top: 0, right: 1, bottom: 1 },
  { name: 'bottom', left: 0, top: 0, right: 0, bottom: 1 },
  { name: 'lower left corner', left: 1, top: 0, right: 0, bottom: 1 },
  { name: 'left side', left: 1, top: 0, right: 0, bottom: 0 },
] as const;

function CropMarks({ density, handles }: { readonly density: number; readonly handles: boolean }) {
  const crop = useBench((state) => state.cut.prepare.crop);
  const frame = useBench((state) => state.frame);
  const view = useBench((state) => state.view);
  const actions = useBenchActions();
  if (!crop && !handles) return null;
  const now: Crop = crop ?? { x: 0, y: 0, width: frame.width, height: frame.height };
  const x = (at: number) => (at * view.scale + view.left) / density;
  const y = (at: number) => (at * view.scale + view.top) / density;
  const box = { left: x(now.x), top: y(now.y), width: x(now.width) - x(0), height: y(now.height) - y(0) };
  const moved = (handle: (typeof HANDLES)[number], dx: number, dy: number): Crop => {
    const [across, down] = [Math.round(dx), Math.round(dy)];
    const left = clamp(now.x + handle.left * across, 0, now.x + now.width - 1);
    const top = clamp(now.y + handle.top * down, 0, now.y + now.height - 1);
    const right = clamp(now.x + now.width + handle.right * across, left + 1, frame.width);
    const bottom = clamp(now.y + now.height + handle.bottom * down, top + 1, frame.height);
    return { x: left, y: top, width: right - left, height: bottom - top };
  };
  return (
    <>
      <span className={classes.cropBox} style={box} aria-hidden="true" />
      {handles &&
        HANDLES.map((handle) => (
          <Handle
            key={handle.name}
            name={`Crop: ${handle.name}`}
            at={{
              x: box.left + (handle.right ? box.width : handle.left ? 0 : box.width / 2),
              y: box.top + (handle.bottom ? box.height : handle.top ? 0 : box.height / 2),
            }}
            perPixel={density / view.scale}
            onMove={(dx, dy) => actions.draft('prepare', { crop: moved(handle, dx, dy) })}
            onDone={(dx, dy) => actions.change('prepare', { crop: moved(handle, dx, dy) })}
          />
        ))}
    </>
  );
}

const CORNERS = ['upper left', 'upper right', 'lower right', 'lower left'] as const;

function CornerMarks({ density }: { readonly density: number }) {
  const corners = useBench((state) => state.cut.prepare.corners);
  const frame = useBench((state) => state.frame);
  const view = useBench((state) => state.view);
  const actions = useBenchActions();
  if (!corners) return null;
  const onScreen = corners.map(([x, y]) => {
    const at = shownPlace(frame, x, y);
    return { x: (at.x * view.scale + view.left) / density, y: (at.y * view.scale + view.top) / density };
  });
  const moved = (index: number, dx: number, dy: number) => {
    const [x, y] = corners[index]!;
    const at = shownPlace(frame, x, y);
    const to = originalPlace(frame, at.x + Math.round(dx), at.y + Math.round(dy));
    const next = corners.map((corner, k) => (k === index ? [tenth(to.x), tenth(to.y)] : corner));
    return { corners: next as unknown as typeof corners };
  };
  return (
    <>
      <svg className={classes.stretch} aria-hidden="true">
        <polygon points={onScreen.map(({ x, y }) => `${x},${y}`).join(' ')} className={classes.quadRim} />
        <polygon points={onScreen.map(({ x, y }) => `${x},${y}`).join(' ')} className={classes.quad} />
      </svg>
      {onScreen.map((at, index) => (
        <Handle
          key={CORNERS[index]}
          name={`Sheet: ${CORNERS[index]} corner`}
          at={at}
          perPixel={density / view.scale}
          onMove={(dx, dy) => actions.draft('prepare', moved(index, dx, dy))}
          onDone={(dx, dy) => actions.change('prepare', moved(index, dx, dy))}
        />
      ))}
    </>
  );
}

function clamp(value: number, min: number, max: number): number {
  return Math.min(max, Math.max(min, value));
}

function tenth(value: number): number {
  return Math.round(value * 10) / 10;
}
