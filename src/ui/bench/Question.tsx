import { UnstyledButton, VisuallyHidden } from '@mantine/core';
import { useEffect, useMemo, useRef } from 'react';
import { asked } from '../../bench/findings-actions';
import { answerNow, questionWords } from '../../core/findings/question';
import { nameColor } from '../../core/proposal/name-color';
import type { Answer } from '../../engine/protocol';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

const ANSWERS: readonly (readonly [Answer, string, string])[] = [
  ['keep', 'Keep', 'Q'],
  ['clear', 'Clear', 'Shift Q'],
];

/**
 * The one question about a picture, where a wrong answer matters: both results as small pictures to choose from. While the
 * checks run again it waits in its place, so that nothing moves under the pointer.
 */
export function Question() {
  const checked = useBench((state) => state.checked);
  const stale = useBench((state) => state.stale);
  const alpha = useBench((state) => state.alpha);
  const color = useBench(({ cut, curves }) =>
    cut.clear.samples[0]?.backdrop === 'checkerboard' ? null : (curves[0]?.color ?? null),
  );
  const mended = useBench((state) => state.mended);
  const areas = useMemo(() => asked({ checked, mended, alpha }), [checked, mended, alpha]);
  const actions = useBenchActions();
  if (areas.length === 0) return null;
  const words = questionWords(areas, color && nameColor(color));
  const now = answerNow(areas);
  return (
    <div role="group" aria-label={words} className={classes.question}>
      <p>{words}</p>
      <div className={classes.answers}>
        {ANSWERS.map(([answer, word, key]) => (
          <UnstyledButton
            key={answer}
            className={classes.answer}
            data-now={answer === now || undefined}
            disabled={stale}
            onClick={() => actions.answerQuestion(answer === 'keep')}
          >
            <AnswerPicture answer={answer} />
            <span>
              {word}
              <VisuallyHidden> {areas.length === 1 ? 'it' : `all ${areas.length}`} </VisuallyHidden>{' '}
              <kbd aria-hidden="true">{key}</kbd>
            </span>
            {answer === now && <span className={classes.soft}>as now</span>}
          </UnstyledButton>
        ))}
      </div>
    </div>
  );
}

function AnswerPicture({ answer }: { readonly answer: Answer }) {
  const picture = useBench(({ answers, checked }) =>
    answers && answers.key === checked?.key ? answers.pictures[answer] : null,
  );
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const { current } = canvas;
    const context = current?.getContext('2d');
    if (!current || !context || !picture) return;
    current.width = picture.width;
    current.height = picture.height;
    context.drawImage(picture, 0, 0);
  }, [picture]);
  return (
    <canvas ref={canvas} width={84} height={84} aria-hidden="true" data-drawn={picture ? true : undefined} />
  );
}
