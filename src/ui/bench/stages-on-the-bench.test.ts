import { MantineProvider } from '@mantine/core';
import { createElement, type ReactNode } from 'react';
import { renderToStaticMarkup } from 'react-dom/server.node';
import { describe, expect, it } from 'vitest';
import { TOY, toyCut, toyStages } from '../../../tests/make/toy-stage';
import type { PieceFacts } from '../../bench/api';
import { createBenchStore } from '../../bench/bench-store';
import type { BenchClient } from '../../engine/browser/bench-client';
import { BenchContext } from './bench-context';
import { StagePanel } from './StageField';
import { StageStrip } from './StageStrip';

const piece = {
  id: 'p',
  name: 'toy.png',
  width: 40,
  height: 30,
  reason: '',
  backing: 'checker',
} as PieceFacts;
const saved = { revision: 0, cut: toyCut({ shadePercent: 35 }), undo: null, redo: null };
const bench = createBenchStore(piece, saved, {} as BenchClient);

const shown = (part: ReactNode) =>
  renderToStaticMarkup(
    createElement(MantineProvider, null, createElement(BenchContext.Provider, { value: bench }, part)),
  );

describe('a stage that is added to the table', () => {
  it('has its place on the strip, with a switch and what its settings come to', () => {
    const strip = shown(createElement(StageStrip, { stages: toyStages }));
    expect([...strip.matchAll(/<kbd>(\d)<\/kbd>/g)].map(([, number]) => number).join('')).toBe('1234567');
    expect(strip).toContain('Toy<kbd>4</kbd>');
    expect(strip).toContain('shade 35\u00a0%');
    expect(strip).toContain('aria-label="Toy is on"');
    expect(strip.indexOf('Edge<kbd>')).toBeLessThan(strip.indexOf('Toy<kbd>'));
    expect(strip.indexOf('Toy<kbd>')).toBeLessThan(strip.indexOf('Touch up<kbd>'));
  });

  it('has a panel of its switch and its numbers', () => {
    const panel = shown(createElement(StagePanel, { stage: TOY }));
    expect(panel).toContain('Toy is on');
    expect(panel).toContain('>Shade</label>');
    expect(panel).toContain('value="35 %"');
  });
});
