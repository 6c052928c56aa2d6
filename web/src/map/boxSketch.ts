import type { Coordinate } from "./linkedView";

type Pixel = readonly [number, number];

/** Where the pointer went down, or the first corner of two that are clicked. */
export interface Corner {
  at: Coordinate;
  pixel: Pixel;
}

/** What a rectangle being drawn is at: nothing, a first corner that waits for the second, or a
 * press that may become either a corner or a dragged box. */
export interface BoxSketch {
  first: Corner | null;
  pressed: Corner | null;
}

/** The ring that two corners mean. */
export type RingOf = (first: Coordinate, second: Coordinate) => Coordinate[];

export const NO_SKETCH: BoxSketch = { first: null, pressed: null };
const TOLERANCE_PX = 4;

export function press(sketch: BoxSketch, corner: Corner): BoxSketch {
  return { ...sketch, pressed: corner };
}

/** The pointer comes up: a box that was dragged or whose second corner was clicked is done; a
 * first corner waits. */
export function release(
  { first, pressed }: BoxSketch,
  corner: Corner,
  ringOf: RingOf = rectangleOf,
): { sketch: BoxSketch; ring: Coordinate[] | null } {
  if (!pressed) return { sketch: { first, pressed: null }, ring: null };
  const from = isApart(pressed, corner) ? pressed : first;
  if (!from || !isApart(from, corner)) {
    return { sketch: { first: first ?? corner, pressed: null }, ring: null };
  }
  return { sketch: NO_SKETCH, ring: ringOf(from.at, corner.at) };
}

/** The box as it would be if the pointer were done here; null as long as there is none. */
export function preview(
  { first, pressed }: BoxSketch,
  corner: Corner,
  ringOf: RingOf = rectangleOf,
): Coordinate[] | null {
  const from = pressed && isApart(pressed, corner) ? pressed : first;
  return from ? ringOf(from.at, corner.at) : null;
}

function isApart(a: Corner, b: Corner): boolean {
  return Math.hypot(a.pixel[0] - b.pixel[0], a.pixel[1] - b.pixel[1]) > TOLERANCE_PX;
}

export function rectangleOf([left, bottom]: Coordinate, [right, top]: Coordinate): Coordinate[] {
  return [
    [left, bottom],
    [right, bottom],
    [right, top],
    [left, top],
  ];
}

const CIRCLE_CORNERS = 48;

/** Around the first corner, through the second. */
export function circleOf([x, y]: Coordinate, [edgeX, edgeY]: Coordinate): Coordinate[] {
  const radius = Math.hypot(edgeX - x, edgeY - y);
  return Array.from({ length: CIRCLE_CORNERS }, (_, i) => {
    const angle = (2 * Math.PI * i) / CIRCLE_CORNERS;
    return [x + radius * Math.cos(angle), y + radius * Math.sin(angle)];
  });
}
