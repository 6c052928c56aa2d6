import Feature from "ol/Feature";
import type Geometry from "ol/geom/Geometry";
import MultiPolygon from "ol/geom/MultiPolygon";
import Polygon from "ol/geom/Polygon";
import VectorSource from "ol/source/Vector";

import type { Coordinate } from "./linkedView";

export interface Outline {
  type: "Polygon" | "MultiPolygon";
  coordinates: unknown;
}

/** A training site as the map needs it. */
export interface SiteShape {
  key: string;
  outline: Outline;
  colour: string;
  label: string;
  /** A site that takes no part, or is not stored yet, is drawn with a broken line. */
  broken: boolean;
}

export type SiteSource = VectorSource;

export function makeSiteSource(): SiteSource {
  return new VectorSource({ useSpatialIndex: true });
}

/** Bring the source in line with the shapes, touching only what differs. */
export function syncSites(source: SiteSource, shapes: readonly SiteShape[]): void {
  const wanted = new Set(shapes.map((shape) => shape.key));
  for (const feature of source.getFeatures()) {
    if (!wanted.has(String(feature.getId()))) source.removeFeature(feature);
  }
  for (const shape of shapes) {
    const text = JSON.stringify(shape);
    const known = source.getFeatureById(shape.key);
    if (known instanceof Feature && known.get("text") === text) continue;
    const feature = known instanceof Feature ? known : new Feature();
    feature.setGeometry(toGeometry(shape.outline));
    feature.setProperties({ text, shape });
    if (known === null) {
      feature.setId(shape.key);
      source.addFeature(feature);
    }
  }
}

/** Put back what a reshape that was not taken had changed. */
export function restoreSite(source: SiteSource, shape: SiteShape): void {
  const feature = source.getFeatureById(shape.key);
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
  const hits = source.getFeaturesAtCoordinate(at);
  const size = (feature: Feature) => areaOf(feature.getGeometry());
  const [smallest] = hits.sort((a, b) => size(a) - size(b));
  return smallest ? String(smallest.getId()) : null;
}

function areaOf(geometry: Geometry | undefined): number {
  const isArea = geometry instanceof Polygon || geometry instanceof MultiPolygon;
  return isArea ? geometry.getArea() : Infinity;
}
