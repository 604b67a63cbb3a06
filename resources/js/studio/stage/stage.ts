import type { SurfacePart } from '../../live/messages';
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

const SIDE = 1024;
const MARGIN = 2;
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
class Stage {
  readonly canvas = document.createElement('canvas');
  private compositor: Compositor | null = null;
  private composer: Composer | null = null;
  private spots = new Map<string, Spot>();
  private readonly signatures = new Map<string, string>();
  private packed = '';
  private readonly watchers = new Set<() => void>();
  private timer = 0;
  private fence: WebGLSync | null = null;
  private host: Host | null = null;
  /** How often it drew, and how many surfaces it composed, since it was made. */
  drawn = 0;
  composed = 0;

  constructor() {
    this.canvas.width = this.canvas.height = SIDE;
    // A context that the machine takes away may come back; what was in it is made anew then.
    this.canvas.addEventListener('webglcontextlost', (event) => event.preventDefault());
    this.canvas.addEventListener('webglcontextrestored', this.anew);
    playback.watch(() => this.soon(0));
  }

  spot(surface: string): Spot | undefined {
    return this.spots.get(surface);
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
    const now = live.now();
    const on = shownPlayback();
    const plan = now === null ? null : (on?.at(now) ?? null);
    if (now === null || on === null || plan === null) {
      this.soon(AGAIN);
      return;
    }
    // Others read the canvas some time after it was drawn: what is on it has to stay.
    this.compositor ??= this.host === null ? Compositor.onto(this.canvas, true) : Compositor.within(this.host.gl, SIDE, SIDE);
    this.compositor.enter();
    this.composer ??= new Composer(this.compositor);
    const { compositor, composer } = this;
    this.pack(plan.surfaces());
    composer.begin(on, plan, now);
    const master = on.master(now);
    const changed: [string, Spot, SurfacePart][] = [];
    for (const [id, spot] of this.spots) {
      const surface = plan.surface(id);
      if (surface === undefined) continue;
      const signature = `${on.show} ${surface.width} ${surface.height} ${master}\n${composer.signature(id)}`;
      if (this.signatures.get(id) !== signature || compositor.kept(id) === undefined) {
        this.signatures.set(id, signature);
        changed.push([id, spot, surface]);
      }
    }
    if (changed.length > 0) {
      for (const [id, spot, surface] of changed) composer.window(id, id, [0, 0, surface.width, surface.height], spot.width / surface.width);
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
    const { late, lacks } = composer.end();
    Object.assign(window, { kiteStage: { drawn: this.drawn, composed: this.composed, rasters: compositor.held } });
    if (on.moves(now) || on.cards.size > 0) this.soon(Math.max(PACE, (performance.now() - began) * 2));
    else if (late || lacks.length > 0) this.soon(AGAIN);
  }

  /** Shelves of surfaces, highest first, as large as they fit. */
  private pack(surfaces: [string, SurfacePart][]) {
    const key = JSON.stringify(surfaces.map(([id, s]) => [id, s.width, s.height]));
    if (key === this.packed) return;
    this.packed = key;
    this.signatures.clear();
    const max = Math.max(1, ...surfaces.map(([, s]) => Math.max(s.width, s.height)));
    for (let scale = Math.min(1, 512 / max); ; scale *= 0.85) {
      this.spots = new Map();
      let [x, y, shelf] = [0, 0, 0];
      for (const [id, s] of [...surfaces].sort(([, a], [, b]) => b.height - a.height)) {
        const width = Math.max(1, Math.round(s.width * scale));
        const height = Math.max(1, Math.round(s.height * scale));
        if (x + width > SIDE) [x, y, shelf] = [0, y + shelf + MARGIN, 0];
        this.spots.set(id, { x, y, width, height });
        x += width + MARGIN;
        shelf = Math.max(shelf, height);
      }
      if (y + shelf <= SIDE) return;
    }
  }
}

export const stage = new Stage();
