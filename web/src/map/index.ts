export { Crosshair } from "./Crosshair";
export * from "./linkedView";
export { MapView } from "./MapView";
export { type MapPoint, PointsLayer } from "./PointsLayer";
export * from "./sites";
export { SitesLayer } from "./SitesLayer";
export { type SiteTool, SiteTools } from "./SiteTools";
export { TileLayer } from "./TileLayer";
