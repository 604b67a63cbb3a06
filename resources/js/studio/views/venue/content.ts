import { answer, http } from '../../../api/client';
import { command, complain, live, position, select, shownPlayback, useStudio } from '../../store';
import { setVenue } from './state';

type Pixel = { surface: string; x: number; y: number };

/** What a pixel of a surface is; and where in the pane of a layer, where one is named. */
const ask = async (pixel: Pixel, layer = '') =>
  answer(
    http.GET('/shows/{show}/pixel', {
      params: {
        path: { show: useStudio.getState().showId ?? '' },
        query: { surface: pixel.surface, x: String(pixel.x), y: String(pixel.y), ...(layer === '' ? {} : { layer }) },
      },
    }),
  );

/** A drag of what is uppermost at a pixel of a surface: its layer moves loosely in its pane, as far as the pixels say. */
export class ContentDrag {
  private layer = '';
  private from: [number, number] | null = null;
  private at: [number, number] = [0, 0];
  private next: Pixel | null = null;
  private asking = false;
  private over = false;

  constructor(private readonly start: Pixel) {
    setVenue({ asked: start });
    void this.begin().catch(complain);
  }

  private async begin() {
    this.asking = true;
    const { layers } = await ask(this.start);
    this.layer = layers.find((l) => l.layer !== '')?.layer ?? '';
    if (this.layer === '') return;
    // Beside a pane, what that shows stays chosen.
    if (useStudio.getState().view === 'venue') select({ kind: 'layer', id: this.layer });
    const { pane } = await ask(this.start, this.layer);
    const now = live.now();
    const plan = now === null ? null : (shownPlayback()?.at(now) ?? null);
    if (pane === null || now === null || plan === null) return;
    const value = (name: string) => plan.slot(`layer:${this.layer}/${name}`).at(position(), now);
    this.at = [value('x'), value('y')];
    this.from = [pane[0] ?? 0, pane[1] ?? 0];
    this.asking = false;
    this.pump();
  }

  to(pixel: Pixel) {
    this.next = pixel;
    this.pump();
  }

  /** One question at a time, about the newest place. */
  private pump() {
    const { next, from } = this;
    if (this.asking || next === null || from === null || this.over) return;
    this.next = null;
    this.asking = true;
    ask(next, this.layer)
      .then(async ({ pane }) => {
        if (pane === null || this.over) return;
        await command({
          action: 'live',
          values: {
            [`layer:${this.layer}/x`]: Math.round(this.at[0] + (pane[0] ?? 0) - from[0]),
            [`layer:${this.layer}/y`]: Math.round(this.at[1] + (pane[1] ?? 0) - from[1]),
          },
        });
        setVenue({ asked: next });
      })
      .catch(complain)
      .finally(() => {
        this.asking = false;
        this.pump();
      });
  }

  end(how: 'pressed' | 'dropped' | 'stopped') {
    if (how !== 'stopped') return;
    this.over = true;
    if (this.layer !== '')
      void command({ action: 'live', values: { [`layer:${this.layer}/x`]: null, [`layer:${this.layer}/y`]: null } });
  }
}
