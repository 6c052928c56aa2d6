import { intersects } from "ol/extent";
import type OlTileLayer from "ol/layer/Tile";
import type Map from "ol/Map";
import type ImageTile from "ol/source/ImageTile";

/** How far the tiles of a layer are. */
export interface TileState {
  readonly busy: boolean;
  /** The picture is still that of the address before. */
  readonly stale: boolean;
  /** Ask once more for what could not be loaded; null where all could. */
  readonly again: (() => void) | null;
  /** No part of the layer lies where the map is. */
  readonly outside: boolean;
}

export const ALL_THERE: TileState = { busy: false, stale: false, again: null, outside: false };

/** Quick answers are not worth a flicker, nor are tiles that were refused because the address is
 * about to change. */
const PATIENCE_MS = 300;
const DIMMED = 0.45;

/** Watches over a layer's tiles: a picture that belongs to the address before is dimmed until the
 * new one is there. */
export class TileWatch {
  private url: string | null = null;
  private open = 0;
  private failed = false;
  private stale = false;
  private outside = false;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private patience: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly map: Map,
    private readonly layer: OlTileLayer<ImageTile>,
    private readonly tell: (state: TileState) => void,
  ) {}

  /** Begin; answers with the way to end. */
  start(): () => void {
    const source = this.layer.getSource();
    source?.on("tileloadstart", this.onStart);
    source?.on("tileloadend", this.onEnd);
    source?.on("tileloaderror", this.onError);
    this.map.on("moveend", this.onMove);
    if (this.map.getSize()) this.onMove();
    return () => {
      clearTimeout(this.timer);
      clearTimeout(this.patience);
      source?.un("tileloadstart", this.onStart);
      source?.un("tileloadend", this.onEnd);
      source?.un("tileloaderror", this.onError);
      this.map.un("moveend", this.onMove);
      this.tell(ALL_THERE);
    };
  }

  /** The first one is where the layer's tiles come from already. */
  setUrl(url: string): void {
    const before = this.url;
    this.url = url;
    if (before === null || before === url) return;
    this.forgive();
    this.layer.getSource()?.setUrl(url);
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.setStale(this.open > 0), PATIENCE_MS);
    this.say();
  }

  private readonly again = () => {
    this.forgive();
    this.layer.getSource()?.refresh();
    this.say();
  };

  private readonly onStart = () => {
    this.open += 1;
    this.say();
  };

  private readonly onEnd = () => {
    this.open = Math.max(0, this.open - 1);
    if (this.open === 0) this.setStale(false);
    else this.say();
  };

  private readonly onError = () => {
    clearTimeout(this.patience);
    this.patience = setTimeout(() => {
      this.failed = true;
      this.say();
    }, PATIENCE_MS);
    this.onEnd();
  };

  private readonly onMove = () => {
    const extent = this.layer.getExtent();
    const shown = this.map.getView().calculateExtent();
    const outside = extent !== undefined && !intersects(extent, shown);
    if (outside === this.outside) return;
    this.outside = outside;
    this.say();
  };

  private forgive(): void {
    clearTimeout(this.patience);
    this.failed = false;
  }

  private setStale(stale: boolean): void {
    this.stale = stale;
    this.layer.setOpacity(stale ? DIMMED : 1);
    this.say();
  }

  private say(): void {
    const { open, stale, failed, again, outside } = this;
    this.tell({ busy: open > 0, stale, again: failed ? again : null, outside });
  }
}
