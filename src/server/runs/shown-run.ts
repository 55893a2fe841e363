import type { Part } from '../../core/watermark/settings';
import type { Run } from '../../storage/runs';

/** A run as screens and other programs are told of it: without the pictures and fonts that its watermark has in it. */
export function shownRun(run: Run): Run {
  const { mark } = run.routine;
  if (!mark) return run;
  const { layout } = mark.watermark;
  const groups = layout.groups.map((group) => ({ ...group, parts: group.parts.map(emptied) }));
  const watermark = { ...mark.watermark, layout: { ...layout, groups } };
  return { ...run, routine: { ...run.routine, mark: { ...mark, watermark } } };
}

function emptied(part: Part): Part {
  if (part.kind === 'text')
    return part.font.kind === 'embedded' ? { ...part, font: { ...part.font, data: '' } } : part;
  return part.source.kind === 'embedded' ? { ...part, source: { ...part.source, data: '' } } : part;
}
