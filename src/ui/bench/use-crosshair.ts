import { useState, type KeyboardEvent } from 'react';
import { toolOf } from '../../bench/pointer-tools';
import { useBench, useBenchStore } from './bench-context';

const STEPS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** Placing a sample without a pointer: arrow keys move a crosshair over the original's pixels, Enter clicks there. */
export function useCrosshair(density: number) {
  const { actions, store, tools } = useBenchStore();
  const view = useBench((state) => state.view);
  const [pixel, setPixel] = useState<{ x: number; y: number } | null>(null);

  /** Follows the crosshair where it leaves what is shown. */
  const keepInView = (x: number, y: number) => {
    const [across, down] = [x * view.scale + view.left, y * view.scale + view.top];
    if (across < 0 || down < 0 || across >= view.width || down >= view.height) actions.lookAt(x, y);
  };

  const onKeyDown = (event: KeyboardEvent) => {
    const { frame, pointer } = store.getState();
    const { width, height } = frame.crop;
    const start = pixel ?? pointer ?? { x: Math.floor(width / 2), y: Math.floor(height / 2) };
    const step = STEPS[event.key];
    if (step) {
      event.preventDefault();
      const far = event.shiftKey ? 10 : 1;
      const x = Math.min(width - 1, Math.max(0, start.x + step[0] * far));
      const y = Math.min(height - 1, Math.max(0, start.y + step[1] * far));
      setPixel({ x, y });
      actions.leaveFinding();
      keepInView(x, y);
      void actions.point((x + 0.5) * view.scale + view.left, (y + 0.5) * view.scale + view.top);
    } else if (event.key === 'Enter') {
      event.preventDefault();
      // While findings are walked through Enter is theirs; they are left as soon as the crosshair moves.
      if (store.getState().at) {
        actions.fixFindingAt();
        return;
      }
      setPixel({ x: start.x, y: start.y });
      const { scale, left, top } = view;
      const at = { x: (start.x + 0.5) * scale + left, y: (start.y + 0.5) * scale + top };
      const tool = tools[toolOf(store.getState())];
      if (tool.enterKey) tool.enterKey(at);
      else tool.click(at, event.shiftKey);
    }
  };
  const onBlur = () => setPixel(null);
  const onPointerDown = () => setPixel(null);

  const at = pixel && {
    x: ((pixel.x + 0.5) * view.scale + view.left) / density,
    y: ((pixel.y + 0.5) * view.scale + view.top) / density,
  };
  return { at, handlers: { onKeyDown, onBlur, onPointerDown } };
}
