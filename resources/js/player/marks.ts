import type { MarksMessage } from '../live/messages';
import { signal } from '../theme/tokens';

const NS = 'http://www.w3.org/2000/svg';

/** How far a crosshair's circle reaches, in pixels. */
const RING = 24;

/**
 * What is drawn over the light of an output, so that people find their way on it: lines exact to the pixel, names beside them. It
 * lies over the canvas and takes nothing from it.
 */
export class Marks {
  private readonly svg = document.createElementNS(NS, 'svg');
  private told: MarksMessage | null = null;

  constructor(private readonly canvas: HTMLCanvasElement) {
    this.svg.setAttribute('style', 'position:absolute;left:0;top:0;pointer-events:none;display:none');
    this.svg.dataset.marks = '';
    document.body.append(this.svg);
  }

  tell(message: MarksMessage): void {
    this.told = message;
    this.svg.replaceChildren(
      ...message.shapes.flatMap((shape, i) => this.shape(shape, i)),
      ...(message.cross === null ? [] : this.cross(message.cross)),
    );
    this.svg.dataset.marks = `${message.shapes.length} ${message.cross?.join(',') ?? ''}`;
  }

  /** Keeps them over the canvas, and takes them away when their time is over. */
  draw(now: number): void {
    const { svg, canvas } = this;
    const on = this.told !== null && now < this.told.until && (this.told.shapes.length > 0 || this.told.cross !== null);
    if (svg.style.display !== (on ? '' : 'none')) svg.style.display = on ? '' : 'none';
    if (!on) return;
    const box = `0 0 ${canvas.width} ${canvas.height}`;
    if (svg.getAttribute('viewBox') !== box) svg.setAttribute('viewBox', box);
    svg.style.width = canvas.style.width;
    svg.style.height = canvas.style.height;
  }

  private element(name: string, fields: Record<string, string | number>, text = ''): SVGElement {
    const element = document.createElementNS(NS, name);
    for (const [field, value] of Object.entries(fields)) element.setAttribute(field, String(value));
    element.textContent = text;
    return element;
  }

  private cross([x, y]: [number, number]): SVGElement[] {
    const line = (fields: Record<string, string | number>) =>
      this.element('rect', { fill: signal.white, 'shape-rendering': 'crispEdges', ...fields });
    const [px, py] = [Math.floor(x), Math.floor(y)];
    return [
      line({ x: px, y: -1e5, width: 1, height: 2e5 }),
      line({ x: -1e5, y: py, width: 2e5, height: 1 }),
      this.element('circle', { cx: x, cy: y, r: RING, fill: 'none', stroke: signal.white, 'stroke-width': 2 }),
      this.element(
        'text',
        {
          x: x + RING + 8,
          y: y - 10,
          fill: signal.white,
          'font-size': 22,
          'font-family': 'monospace',
          stroke: signal.black,
          'stroke-width': 4,
          'paint-order': 'stroke',
        },
        `${Math.round(x * 100) / 100}, ${Math.round(y * 100) / 100}`,
      ),
    ];
  }

  private shape({ points, label, fill, grid }: MarksMessage['shapes'][number], i: number): SVGElement[] {
    const path = points.map((p) => p.join(',')).join(' ');
    const found: SVGElement[] = [];
    if (grid !== undefined) {
      const pattern = this.element('pattern', {
        id: `grid${i}`,
        width: grid,
        height: grid,
        patternUnits: 'userSpaceOnUse',
        x: points[0]?.[0] ?? 0,
        y: points[0]?.[1] ?? 0,
      });
      pattern.append(
        this.element('path', { d: `M0 0H${grid}M0 0V${grid}`, stroke: signal.white, 'stroke-width': 1, fill: 'none' }),
      );
      found.push(pattern);
    }
    found.push(
      this.element('polygon', {
        points: path,
        fill: grid === undefined ? (fill ?? 'none') : signal.black,
        stroke: signal.white,
        'stroke-width': 2,
      }),
    );
    if (grid !== undefined)
      found.push(this.element('polygon', { points: path, fill: `url(#grid${i})`, stroke: 'none' }));
    if (label !== undefined && label !== '') {
      const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
      const [w, h] = [Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys)];
      const size = Math.max(12, Math.min(h / 3, (w / Math.max(1, label.length)) * 1.4, 160));
      found.push(
        this.element(
          'text',
          {
            x: Math.min(...xs) + w / 2,
            y: Math.min(...ys) + h / 2,
            fill: signal.white,
            'font-size': size,
            'font-family': 'sans-serif',
            'text-anchor': 'middle',
            'dominant-baseline': 'central',
            stroke: signal.black,
            'stroke-width': size / 8,
            'paint-order': 'stroke',
          },
          label,
        ),
      );
    }
    return found;
  }
}
