import { fitCubic } from 'fit-curve';
import { contoursOf } from '../../core/outline/contours';
import { settleContours } from '../../core/outline/settle';
import { smoothParts } from '../../core/outline/corners';
import type { Raster } from '../../core/raster/raster';

/** An outline of what is there in a raster. */
export interface Outline {
  /** The path's data, as SVG has it, in pixels of the raster; to be filled by the even-odd rule. */
  readonly path: string;
  /** Lines and curves it consists of. */
  readonly nodes: number;
  /** Points of a plain outline, one at every side of a pixel that it crosses. */
  readonly plainNodes: number;
}

type Point = readonly [number, number];
type Curve = readonly [Point, Point, Point, Point];

/** The fitting squares its bound and compares both, which works where it is large. */
const FITTED_SCALE = 32;

/** Control points that lie so near to the chord make a straight line. */
const STRAIGHT_PX = 0.04;

/** Directions at the ends of a part are told over so many points. */
const TANGENT_POINTS = 4;

/**
 * Traces a raster's alpha into smooth curves that keep corners: cubic curves after Schneider (1990), no farther than `errorPx`
 * from where the edges were found.
 */
export function outlineOf(raster: Raster, errorPx: number): Outline {
  let path = '';
  let nodes = 0;
  let plainNodes = 0;
  const contours = contoursOf(raster);
  settleContours(contours, raster);
  for (const contour of contours) {
    plainNodes += contour.length / 2;
    const { parts, hasCorners } = smoothParts(contour);
    const curves = parts.flatMap((part) => fitted(part, errorPx, hasCorners));
    const [first] = curves;
    if (!first) continue;
    nodes += curves.length;
    path += `M${numbers(first[0])}${curves.map(segment).join('')}Z`;
  }
  return { path, nodes, plainNodes };
}

function fitted(part: readonly Point[], errorPx: number, hasCorners: boolean): Curve[] {
  const points = part.map(([x, y]): [number, number] => [x * FITTED_SCALE, y * FITTED_SCALE]);
  const count = points.length;
  if (count < 2) return [];
  const reach = Math.min(TANGENT_POINTS, count - 1);
  const first = direction(points[0]!, points[reach]!);
  const last = direction(points[count - 1]!, points[count - 1 - reach]!);
  // Without a corner the end goes on into the start.
  const seam = hasCorners || count < 4 ? null : direction(points[count - 2]!, points[1]!);
  const [start, end] = seam ? [seam, opposite(seam)] : [first, last];
  const bound = errorPx * FITTED_SCALE;
  const curves = fitCubic(points, start, end, bound * bound);
  return curves.map((curve) => curve.map(([x, y]) => [x / FITTED_SCALE, y / FITTED_SCALE]) as never as Curve);
}

function opposite([x, y]: [number, number]): [number, number] {
  return [-x, -y];
}

function direction(from: Point, to: Point): [number, number] {
  const dx = to[0] - from[0];
  const dy = to[1] - from[1];
  const length = Math.sqrt(dx * dx + dy * dy);
  return length === 0 ? [1, 0] : [dx / length, dy / length];
}

function segment([from, one, other, to]: Curve): string {
  if (isStraight(from, one, to) && isStraight(from, other, to)) return `L${numbers(to)}`;
  return `C${numbers(one)} ${numbers(other)} ${numbers(to)}`;
}

function isStraight(from: Point, at: Point, to: Point): boolean {
  const dx = to[0] - from[0];
  const dy = to[1] - from[1];
  const length = Math.sqrt(dx * dx + dy * dy);
  const off = Math.abs((at[0] - from[0]) * dy - (at[1] - from[1]) * dx);
  return off <= STRAIGHT_PX * length || length === 0;
}

function numbers([x, y]: Point): string {
  return `${short(x)} ${short(y)}`;
}

/** Hundredths of a pixel. */
function short(value: number): string {
  return String(Math.round(value * 100) / 100);
}
