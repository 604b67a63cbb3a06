import type { SurfacePart } from '../../live/messages';
import type { ShowPlayback } from '../../live/playback';
import { Composer } from '../../player/compose';
import { Compositor } from '../../player/compositor';
import { live, playback, shownPlayback } from '../store';

/** Where a surface's picture lies on the stage's canvas, in pixels. */
export interface Spot {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** What the spot of a route's pane is called. */
export const paneKey = (route: string) => `pane ${route}`;

const SIDE = 1024;
const MARGIN = 2;
/** The longer side up to which a raster is shown whole. */
const SMALL = 64;
/** At most so many pictures a second, in ms between them. */
const PACE = 33;
/** How long to wait for pictures that are not here yet, in ms. */
const AGAIN = 120;

/** A drawing context that shows the stage's pictures itself, and what it has to be told when others have drawn in it. */
interface Host {
  gl: WebGL2RenderingContext;
  left: () => void;
}

/**
 * The rasters of all surfaces of the show that is open, small, in one picture: composed by the same passes as a player's, and
 * taken from there by every view that shows light. It draws when something changed, and of that only the surfaces that did.
 * It lies on a canvas of its own, or, while a view shows it in 3D, in a texture of that view's context, so that nothing is copied.
 */
export class Stage {
  readonly canvas = document.createElement('canvas');
  private compositor: Compositor | null = null;
  private composer: Composer | null = null;
  private spots = new Map<string, Spot>();
  private readonly panes = new Map<string, number>();
  private readonly signatures = new Map<string, string>();
  private packed = '';
  private readonly watchers = new Set<() => void>();
  private timer = 0;
  private fence: WebGLSync | null = null;
  private host: Host | null = null;
  private readonly unwatch: () => void;
  /** How often it drew, and how many surfaces it composed, since it was made. */
  drawn = 0;
  composed = 0;

  /** @param seen what is shown and at which engine time; null while there is nothing */
  constructor(private readonly seen: () => { on: ShowPlayback; now: number } | null) {
    this.canvas.width = this.canvas.height = SIDE;
    // A context that the machine takes away may come back; what was in it is made anew then.
    this.canvas.addEventListener('webglcontextlost', (event) => event.preventDefault());
    this.canvas.addEventListener('webglcontextrestored', this.anew);
    this.unwatch = playback.watch(() => this.soon(0));
  }

  spot(surface: string): Spot | undefined {
    return this.spots.get(surface);
  }

  /** Shows the pane of a route as well, as long as somebody looks at it; its spot is that of `paneKey(route)`. */
  lookInto(route: string): () => void {
    this.panes.set(route, (this.panes.get(route) ?? 0) + 1);
    this.soon(0);
    return () => {
      const left = (this.panes.get(route) ?? 1) - 1;
      if (left > 0) this.panes.set(route, left);
      else this.panes.delete(route);
    };
  }

  /** Everything is made again, in the context that there is now. */
  private readonly anew = () => {
    this.composer?.close();
    this.compositor = this.composer = this.fence = null;
    this.signatures.clear();
    this.soon(0);
  };

  /** Draws in the context of a view, until that leaves. */
  enter(host: Host): () => void {
    this.host?.gl.canvas.removeEventListener('webglcontextrestored', this.anew);
    this.host = host;
    host.gl.canvas.addEventListener('webglcontextrestored', this.anew);
    this.anew();
    return () => {
      host.gl.canvas.removeEventListener('webglcontextrestored', this.anew);
      if (this.host !== host) return;
      this.host = null;
      this.anew();
    };
  }

  /** Where the picture is, in the context that was entered. */
  get texture(): WebGLTexture | null {
    return this.compositor?.target.texture ?? null;
  }

  /** Lets go of all that it draws with. */
  close(): void {
    this.unwatch();
    clearTimeout(this.timer);
    this.watchers.clear();
    this.composer?.close();
    this.compositor?.gl.getExtension('WEBGL_lose_context')?.loseContext();
    this.compositor = this.composer = null;
  }

  /** Draws for as long as somebody watches. */
  watch(changed: () => void): () => void {
    this.watchers.add(changed);
    this.signatures.clear();
    this.soon(0);
    return () => this.watchers.delete(changed);
  }

  /** Something else than what the engine tells is different: another show is open. */
  refresh(): void {
    this.soon(0);
  }

  private soon(ms: number): void {
    if (this.timer === 0 && this.watchers.size > 0) this.timer = window.setTimeout(() => this.draw(), ms);
  }

  private draw() {
    this.timer = 0;
    if (this.watchers.size === 0) return;
    if (this.host?.gl.isContextLost() === true) return;
    try {
      this.paint();
    } catch (error) {
      // What could not be drawn now may be in a moment: one bad picture does not end all others.
      console.error(error);
      this.signatures.clear();
      this.soon(AGAIN * 8);
    } finally {
      this.host?.left();
    }
  }

  private paint() {
    if (this.fence !== null && this.compositor !== null) {
      // The last one is still being drawn: another would only wait behind it.
      const { gl } = this.compositor;
      if (gl.clientWaitSync(this.fence, 0, 0) === gl.TIMEOUT_EXPIRED) {
        gl.flush();
        this.soon(8);
        return;
      }
      gl.deleteSync(this.fence);
      this.fence = null;
    }
    const began = performance.now();
    const seen = this.seen();
    const plan = seen?.on.at(seen.now) ?? null;
    if (seen === null || plan === null) {
      this.soon(AGAIN);
      return;
    }
    const { on, now } = seen;
    // Others read the canvas some time after it was drawn: what is on it has to stay.
    this.compositor ??=
      this.host === null ? Compositor.onto(this.canvas, true) : Compositor.within(this.host.gl, SIDE, SIDE);
    this.compositor.enter();
    this.composer ??= new Composer(this.compositor, true);
    const { compositor, composer } = this;
    const routes = [...this.panes.keys()].flatMap((route) => {
      const size = plan.pane(route)?.size;
      return size === undefined
        ? []
        : [{ route, name: paneKey(route), size: { name: '', width: size[0], height: size[1] } }];
    });
    this.pack([...plan.surfaces(), ...routes.map(({ name, size }): [string, SurfacePart] => [name, size])]);
    composer.begin(on, plan, now);
    const master = on.master(now);
    const changed: { id: string; spot: Spot; size: SurfacePart; route: string | null }[] = [];
    for (const [id, spot] of this.spots) {
      const route = routes.find((one) => one.name === id);
      const size = route?.size ?? plan.surface(id);
      if (size === undefined) continue;
      const signature = `${on.show} ${size.width} ${size.height} ${master}\n${route === undefined ? composer.signature(id) : composer.paneSignature(route.route)}`;
      if (this.signatures.get(id) !== signature || compositor.kept(id) === undefined) {
        this.signatures.set(id, signature);
        changed.push({ id, spot, size, route: route?.route ?? null });
      }
    }
    if (changed.length > 0) {
      for (const { id, spot, size, route } of changed) {
        if (route === null) composer.window(id, id, [0, 0, size.width, size.height], spot.width / size.width);
        else composer.pane(id, route, spot.width / size.width);
      }
      this.composed += changed.length;
      compositor.output();
      for (const [id, spot] of this.spots) {
        const raster = compositor.kept(id);
        if (raster !== undefined) compositor.deliver(raster, [spot.x, spot.y, spot.width, spot.height], master);
      }
      this.drawn++;
      this.fence = compositor.gl.fenceSync(compositor.gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
      for (const watcher of this.watchers) watcher();
    }
    const { late, lacks, live: moving } = composer.end();
    Object.assign(window, { kiteStage: { drawn: this.drawn, composed: this.composed, rasters: compositor.held } });
    if (on.moves(now) || on.cards.size > 0 || moving) this.soon(Math.max(PACE, (performance.now() - began) * 2));
    else if (late || lacks.length > 0) this.soon(AGAIN);
  }

  /** Shelves of surfaces, highest first, as large as they fit; small ones, such as pixel lights, pixel by pixel where there is room. */
  private pack(surfaces: [string, SurfacePart][]) {
    const key = JSON.stringify(surfaces.map(([id, s]) => [id, s.width, s.height]));
    if (key === this.packed) return;
    this.packed = key;
    this.signatures.clear();
    const max = Math.max(1, ...surfaces.map(([, s]) => Math.max(s.width, s.height)));
    const largest = Math.min(1, 512 / max);
    for (let scale = largest; ; scale *= 0.85) {
      this.spots = new Map();
      let [x, y, shelf] = [0, 0, 0];
      for (const [id, s] of [...surfaces].sort(([, a], [, b]) => b.height - a.height)) {
        const by = Math.min(1, Math.max(scale, ((scale / largest) * SMALL) / Math.max(s.width, s.height)));
        const width = Math.max(1, Math.round(s.width * by));
        const height = Math.max(1, Math.round(s.height * by));
        if (x + width > SIDE) [x, y, shelf] = [0, y + shelf + MARGIN, 0];
        this.spots.set(id, { x, y, width, height });
        x += width + MARGIN;
        shelf = Math.max(shelf, height);
      }
      if (y + shelf <= SIDE) return;
    }
  }
}

/** What is on now. */
export const stage = new Stage(() => {
  const [on, now] = [shownPlayback(), live.now()];
  return on === null || now === null ? null : { on, now };
});
