import { describe, expect, it } from 'vitest';
import { untouchedCut } from '../core/cut/parse';
import { ApiError, type api, type CutStateFacts } from './api';
import { createSaveQueue, cutPort } from './save-queue';

const state = (revision: number): CutStateFacts => ({
  revision,
  cut: untouchedCut(),
  undo: null,
  redo: null,
});

/** A server that records what it is asked, in order, and answers a moment later. */
function recorder() {
  const asked: string[] = [];
  let revision = 3;
  let failures = 0;
  const port: Pick<typeof api, 'addRevision' | 'move'> = {
    async addRevision(_id, after, label) {
      for (let turns = Math.floor(Math.random() * 5); turns >= 0; turns--)
        await new Promise((resolve) => setImmediate(resolve));
      asked.push(`${after}:${label}`);
      if (failures-- > 0) throw new ApiError('offline', 'away');
      return state(++revision);
    },
    async move(_id, move) {
      asked.push(move);
      if (revision === 0) throw new ApiError('nothing-to-undo', 'nothing');
      return Promise.resolve(state(--revision));
    },
  };
  return { asked, port: cutPort('p', port), fail: (times: number) => (failures = times) };
}

const cut = untouchedCut();

describe('the save queue', () => {
  it('sends steps one behind another, each after the revision the last one made', async () => {
    const { asked, port } = recorder();
    const queue = createSaveQueue(
      3,
      port,
      () => undefined,
      () => undefined,
    );
    queue.push({ document: cut, label: 'a' });
    queue.push({ document: cut, label: 'b' });
    queue.push('undo');
    queue.push({ document: cut, label: 'c' });
    await queue.whenSaved();
    expect(asked).toEqual(['3:a', '4:b', 'undo', '4:c']);
    expect(queue.revision).toBe(5);
  });

  it('replaces the cut on the bench only for undo and redo, and only when nothing waits behind them', async () => {
    const { port } = recorder();
    const replaced: boolean[] = [];
    const queue = createSaveQueue(
      3,
      port,
      (_state, replace) => replaced.push(replace),
      () => undefined,
    );
    queue.push({ document: cut, label: 'a' });
    queue.push('undo');
    queue.push('undo');
    await queue.whenSaved();
    expect(replaced).toEqual([false, false, true]);
  });

  it('keeps a step that could not be sent and sends it again on retry', async () => {
    const { asked, port, fail } = recorder();
    const reports: string[] = [];
    fail(1);
    const queue = createSaveQueue(
      3,
      port,
      () => undefined,
      (report) => reports.push(report.state),
    );
    queue.push({ document: cut, label: 'a' });
    await expect.poll(() => reports.at(-1)).toBe('failed');
    queue.retry();
    await queue.whenSaved();
    expect(asked).toEqual(['3:a', '3:a']);
    expect(reports.at(-1)).toBe('saved');
  });

  it('passes over an undo when there is nothing to undo, and the bench shows what the last real one brought', async () => {
    const { port } = recorder();
    const shown: number[] = [];
    const queue = createSaveQueue(
      3,
      port,
      (brought, replace) => {
        if (replace) shown.push(brought.revision);
      },
      () => undefined,
    );
    for (let n = 0; n < 5; n++) queue.push('undo');
    await queue.whenSaved();
    expect(queue.revision).toBe(0);
    expect(shown).toEqual([0]);
  });
});
