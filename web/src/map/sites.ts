import Feature from "ol/Feature";
import type Geometry from "ol/geom/Geometry";
import MultiPolygon from "ol/geom/MultiPolygon";
import Polygon from "ol/geom/Polygon";
import RenderFeature from "ol/render/Feature";
import VectorSource from "ol/source/Vector";

import type { Coordinate } from "./linkedView";

export interface Outline {
  type: "Polygon" | "MultiPolygon";
  coordinates: unknown;
}

/** A training site as the map needs it. */
export interface SiteShape {
  key: string;
  /** Another one whenever anything of the shape is. */
  version: string;
  outline: Outline;
  colour: string;
  label: string;
  /** A site that takes no part, or is not stored yet, is drawn with a broken line. */
  broken: boolean;
}

/** Sites are drawn by the thousand: as light features without a listener each, but for the few that
 *  are being changed. */
type SiteFeature = Feature | RenderFeature;
export type SiteSource = VectorSource<SiteFeature>;

export function makeSiteSource(): SiteSource {
  // Lines of one colour are drawn in one go; that they may cross is of no matter for lines.
  return new VectorSource<SiteFeature>({ useSpatialIndex: true, overlaps: false });
}

/** Bring the source in line with the shapes, touching only what differs. */
export function syncSites(source: SiteSource, shapes: readonly SiteShape[]): void {
  const wanted = new Set(shapes.map(({ key }) => key));
  const gone = source.getFeatures().filter((feature) => !wanted.has(String(feature.getId())));
  const added: SiteFeature[] = [];
  for (const shape of shapes) {
    const known = siteFeature(source, shape.key);
    if (known && shapeOf(known).version === shape.version) continue;
    if (known instanceof Feature) {
      known.setProperties({ shape });
      known.setGeometry(toGeometry(shape.outline));
      continue;
    }
    if (known) gone.push(known);
    added.push(lightFeature(shape));
  }
  if (gone.length > 0) source.removeFeatures(gone);
  if (added.length > 0) source.addFeatures(added);
}

function siteFeature(source: SiteSource, key: string): SiteFeature | null {
  const found = source.getFeatureById(key);
  return Array.isArray(found) ? (found[0] ?? null) : found;
}

function lightFeature(shape: SiteShape): SiteFeature {
  const { outline, key } = shape;
  if (outline.type !== "Polygon") return fullFeature(shape);
  const rings = outline.coordinates as number[][][];
  const flat = rings.flatMap((ring) => ring.flatMap(([x = 0, y = 0]) => [x, y]));
  const ends: number[] = [];
  for (const ring of rings) ends.push((ends.at(-1) ?? 0) + 2 * ring.length);
  return new RenderFeature("Polygon", flat, ends, 2, { shape }, key);
}

function fullFeature(shape: SiteShape): Feature {
  const feature = new Feature({ geometry: toGeometry(shape.outline), shape });
  feature.setId(shape.key);
  return feature;
}

/** The feature of a site as one that can be dragged and reshaped. */
export function changeableSite(source: SiteSource, key: string): Feature | null {
  const known = siteFeature(source, key);
  if (known === null || known instanceof Feature) return known;
  const full = fullFeature(shapeOf(known));
  source.removeFeature(known);
  source.addFeature(full);
  return full;
}

/** Put back what a reshape that was not taken had changed. */
export function restoreSite(source: SiteSource, shape: SiteShape): void {
  const feature = siteFeature(source, shape.key);
  if (feature instanceof Feature) feature.setGeometry(toGeometry(shape.outline));
}

export function shapeOf(feature: { get: (name: string) => unknown }): SiteShape {
  return feature.get("shape") as SiteShape;
}

export function toGeometry(outline: Outline): Geometry {
  return outline.type === "Polygon"
    ? new Polygon(outline.coordinates as number[][][])
    : new MultiPolygon(outline.coordinates as number[][][][]);
}

export function toOutline(geometry: Geometry): Outline {
  if (geometry instanceof MultiPolygon) {
    return { type: "MultiPolygon", coordinates: geometry.getCoordinates() };
  }
  if (!(geometry instanceof Polygon)) throw new Error("A site is a polygon.");
  return { type: "Polygon", coordinates: geometry.getCoordinates() };
}

/** West, south, east, north of an outline. */
export function extentOfOutline(outline: Outline): [number, number, number, number] {
  return toGeometry(outline).getExtent() as [number, number, number, number];
}

export function outlineOf(ring: Coordinate[]): Outline {
  const [first] = ring;
  return { type: "Polygon", coordinates: [first ? [...ring, first] : ring] };
}

/** Area of an outline in square units of the map. */
export function outlineArea(outline: Outline): number {
  return areaOf(toGeometry(outline));
}

/** Whether one of some places lies in an outline, or no further from it than so much. */
export function isNear(outline: Outline, places: readonly Coordinate[], by: number): boolean {
  const geometry = toGeometry(outline);
  return places.some(([x, y]) => {
    if (geometry.intersectsCoordinate([x, y])) return true;
    const [nearX = Infinity, nearY = Infinity] = geometry.getClosestPoint([x, y]);
    return Math.hypot(nearX - x, nearY - y) <= by;
  });
}

/** Key of the smallest site that holds a point. */
export function siteAt(source: SiteSource, at: number[]): string | null {
  const [x = 0, y = 0] = at;
  // Of light features the source looks at the bounds alone.
  const geometries = source.getFeaturesInExtent([x, y, x, y]).flatMap((feature) => {
    const geometry =
      feature instanceof Feature ? feature.getGeometry() : toGeometry(shapeOf(feature).outline);
    return geometry?.intersectsCoordinate([x, y]) ? [{ feature, size: areaOf(geometry) }] : [];
  });
  const [smallest] = geometries.sort((a, b) => a.size - b.size);
  return smallest ? String(smallest.feature.getId()) : null;
}

function areaOf(geometry: Geometry | undefined): number {
  const isArea = geometry instanceof Polygon || geometry instanceof MultiPolygon;
  return isArea ? geometry.getArea() : Infinity;
}
