import { describe, expect, it } from 'vitest';
import type { Steps } from '../../core/numeric/steps';
import { jobOf, Scheduler } from './scheduler';

function* steps(count: number): Steps<string> {
  for (let done = 1; done <= count; done++) yield { doing: 'clearing', done, total: count };
  return `${count} done`;
}

function start() {
  let clock = 0;
  const told: number[] = [];
  const results: string[] = [];
  let begun = 0;
  const scheduler = new Scheduler(
    () => clock++,
    ({ done }) => told.push(done),
  );
  const job = (key: string, count: number, isTold = true) =>
    jobOf({
      key,
      isTold,
      begin() {
        begun++;
        return steps(count);
      },
      done: (result) => results.push(`${key}: ${result}`),
    });
  const work = (...given: Parameters<typeof job>) => scheduler.work(job(...given), clock + 3);
  return { scheduler, work, told, results, begun: () => begun };
}

describe('Scheduler', () => {
  it('goes on with a job of the same key until it is done', () => {
    const { work, told, results, begun } = start();
    const ended = [];
    while (results.length === 0) ended.push(work('a', 10));
    expect(ended.length).toBeGreaterThan(2);
    expect(ended.indexOf(true)).toBe(ended.length - 1);
    expect(results).toEqual(['a: 10 done']);
    expect(begun()).toBe(1);
    expect(told).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10]);
  });

  it('tells each percent once, however small the steps are', () => {
    const { work, told, results } = start();
    while (results.length === 0) work('a', 1000);
    expect(told).toHaveLength(101);
    while (results.length === 1) work('b', 1000);
    expect(told).toHaveLength(202);
  });

  it('gives up what was begun where another job comes, and begins anew when it comes back', () => {
    const { work, results, begun } = start();
    work('a', 10);
    while (results.length === 0) work('b', 3);
    while (results.length === 1) work('a', 10);
    expect(results).toEqual(['b: 3 done', 'a: 10 done']);
    expect(begun()).toBe(3);
  });

  it('begins anew after it was dropped, and tells nothing of what is done in silence', () => {
    const { scheduler, work, told, begun, results } = start();
    work('a', 10, false);
    scheduler.drop();
    while (results.length === 0) work('a', 10, false);
    expect(begun()).toBe(2);
    expect(told).toEqual([]);
  });
});
