import { Textarea, TextInput } from '@mantine/core';
import {
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
  type SubmitEvent,
  useEffect,
  useRef,
  useState,
} from 'react';
import { answer, http, Problem } from '../../api/client';
import { refusals } from '../complain';
import { follow } from '../drag';
import { useShow } from '../hooks';
import { timecode } from '../time';

interface Common {
  label: string;
  disabled?: boolean;
  description?: ReactNode;
  /** What can be typed, shown while somebody does. */
  hint?: string;
  autoFocus?: boolean;
  placeholder?: string;
  /** A password is not shown. */
  type?: 'password';
  /** Its name where no label is seen. */
  'aria-label'?: string;
}

/** What was typed and is being worked out. */
const taking = new Set<Promise<void>>();

/** Does what was typed; where that is refused, throws why, so that the field keeps the text. */
async function carriedOut(does: () => unknown): Promise<void> {
  const { times } = refusals();
  const done = await does();
  const now = refusals();
  if ((done === null || done === false) && now.times > times) throw now.last;
}

/** Once all that was typed has been worked out, and what follows of it was drawn. */
export const settled = (): Promise<void> =>
  Promise.allSettled([...taking]).then(() => new Promise((done) => setTimeout(done)));

/** Sends a form off once all that was typed into its fields has been taken; one with a field that was not taken stays. */
export const submitted = (send: () => unknown) => (event: SubmitEvent<HTMLFormElement>) => {
  event.preventDefault();
  const form = event.currentTarget;
  if (taking.size > 0) void settled().then(() => form.requestSubmit());
  else if (form.querySelector('[aria-invalid=true]') === null) void send();
};

/** Pixels of the pointer for one step of a number. */
const SCRUB = 3;
/** Ms after the last key until it is asked what a text comes to. */
const PREVIEW = 150;

/** A label by which the number is changed: dragged to the right it grows; Shift: by tens, Alt: by tenths. */
function Scrub({
  label,
  scrubbed,
}: {
  label: string;
  /** While it is dragged, by how many steps; at the end, whether it is taken. */
  scrubbed: (steps: number, end: 'moving' | 'taken' | 'stopped') => void;
}) {
  const begin = (e: PointerEvent<HTMLSpanElement>) => {
    if (e.button !== 0) return;
    const node = e.currentTarget;
    let [gone, last] = [0, 0];
    follow(
      e,
      (dx, _, move) => {
        gone += ((dx - last) / SCRUB) * (move.shiftKey ? 10 : move.altKey ? 0.1 : 1);
        last = dx;
        scrubbed(gone, 'moving');
      },
      (how) => {
        if (how === 'pressed') return;
        // A drag is no press on the label, which would go into the field.
        node.addEventListener('click', (click) => click.preventDefault(), { once: true });
        scrubbed(gone, how === 'dropped' ? 'taken' : 'stopped');
      },
    );
  };
  return (
    <span className="scrub" onPointerDown={begin}>
      {label}
    </span>
  );
}

/** A field that keeps what is typed until Enter or leaving, and says under itself why a text was not taken. */
function Typed({
  label,
  shown,
  take,
  step,
  scrub,
  unit,
  hint,
  preview,
  ...rest
}: Common & {
  shown: string;
  unit?: string;
  take: (text: string) => Promise<void>;
  step?: (by: number) => void;
  /** What it shows when its label was dragged by so many steps, and what takes that. */
  scrub?: { shows: (steps: number) => string; take: (steps: number) => unknown };
  /** What a text comes to, in words; undefined where that is plain. */
  preview?: (text: string) => Promise<string | undefined>;
}) {
  const [text, setText] = useState<string | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [typing, setTyping] = useState(false);
  const [says, setSays] = useState<string | undefined>(undefined);
  const [steps, setSteps] = useState<number | null>(null);
  const asks = useRef(preview);
  asks.current = preview;
  // biome-ignore lint/correctness/useExhaustiveDependencies: it may refer to what is there, which an earlier text may still be changing
  useEffect(() => {
    setSays(undefined);
    if (text === null || asks.current === undefined) return;
    let alive = true;
    const timer = setTimeout(() => {
      // What is half typed may come to nothing yet.
      asks.current?.(text).then(
        (now) => alive && setSays(now),
        () => undefined,
      );
    }, PREVIEW);
    return () => {
      alive = false;
      clearTimeout(timer);
    };
  }, [text, shown]);
  const busy = useRef(false);
  const done = async () => {
    if (busy.current) return;
    if (text === null || text === shown) {
      setText(null);
      setFault(null);
      return;
    }
    busy.current = true;
    const taken = take(text);
    taking.add(taken);
    try {
      await taken;
      // What was typed meanwhile stays.
      setText((now) => (now === text ? null : now));
      setFault(null);
    } catch (error) {
      const at = error instanceof Problem ? error.document.at : undefined;
      setFault(`${(error as Error).message}${at === undefined ? '' : ` (at character ${at + 1})`}`);
    } finally {
      busy.current = false;
      taking.delete(taken);
    }
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.key === 'Enter') {
      // In a dialog, Enter first takes what was typed; the next one sends the dialog off.
      if (text !== null && text !== shown) event.preventDefault();
      void done();
    }
    if (event.key === 'Escape') {
      setText(null);
      setFault(null);
    }
    if (step !== undefined && text === null && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
      event.preventDefault();
      step((event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 10 : 1));
    }
    if (!event.altKey && !event.ctrlKey && !event.metaKey) event.stopPropagation();
  };
  return (
    <TextInput
      label={
        scrub === undefined || label === '' || rest.disabled === true ? (
          label
        ) : (
          <Scrub
            label={label}
            scrubbed={(by, end) => {
              setSteps(end === 'moving' ? by : null);
              if (end === 'taken' && scrub.shows(by) !== shown) void scrub.take(by);
            }}
          />
        )
      }
      value={text ?? (steps === null ? shown : (scrub?.shows(steps) ?? shown))}
      inputMode={step === undefined ? undefined : 'decimal'}
      data-typed={text !== null}
      error={fault}
      onChange={(e) => setText(e.currentTarget.value)}
      onFocus={(e) => {
        e.currentTarget.select();
        setTyping(true);
      }}
      onBlur={() => {
        setTyping(false);
        void done();
      }}
      onKeyDown={onKey}
      rightSectionWidth={unit === undefined || unit === '' ? undefined : 14 + 7.5 * unit.length}
      rightSection={
        unit === undefined || unit === '' ? undefined : (
          <span className="dim mono" style={{ fontSize: 12 }}>
            {unit}
          </span>
        )
      }
      classNames={{ input: 'mono' }}
      {...rest}
      {...(typing && (says ?? hint) !== undefined ? { description: says ?? hint } : {})}
    />
  );
}

/** A number as fields write it. */
const written = (value: number, digits: number) => String(Number(value.toFixed(digits)));

/** Whether a text is just a number: what that comes to is plain. */
const isPlain = (text: string) => /^\s*[−-]?[\d.]*\s*$/.test(text);

/** A number with its unit. Takes arithmetic and other units; the arrow keys step it, and so does dragging its label. */
export function NumberField({
  value,
  unit = '',
  onChange,
  step = 1,
  digits = 3,
  scale = 1,
  ...rest
}: Common & {
  value: number;
  unit?: string;
  step?: number;
  digits?: number;
  scale?: number;
  onChange: (value: number) => unknown;
}) {
  const present = value * scale;
  const shown = written(present, digits);
  const found = async (text: string) =>
    (await answer(http.POST('/arithmetic', { body: { text, unit, present } }))).value ?? 0;
  const stepped = (steps: number) => written(Number(shown) + steps * step, digits);
  return (
    <Typed
      {...rest}
      shown={shown}
      unit={unit}
      preview={async (text) => (isPlain(text) ? undefined : `= ${written(await found(text), digits)} ${unit}`.trim())}
      scrub={{ shows: stepped, take: (steps) => onChange(Number(stepped(steps)) / scale) }}
      step={(by) => void onChange((Number(shown) + by * step) / scale)}
      take={async (text) => {
        const number = await found(text);
        await carriedOut(() => onChange(number / scale));
      }}
    />
  );
}

/** A number of several things: what all have in common, or that they differ; what is typed goes to all, and is worked out from each one's own. */
export function NumbersField({
  label,
  values,
  unit = '',
  digits = 3,
  onChange,
  ...rest
}: Common & { values: readonly number[]; unit?: string; digits?: number; onChange: (values: number[]) => unknown }) {
  const text = (value: number) => written(value, digits);
  const mixed = values.some((value) => text(value) !== text(values[0] ?? 0));
  const found = async (typed: string, presents: readonly number[]) =>
    (await answer(http.POST('/arithmetic', { body: { text: typed, unit, presents: [...presents] } }))).values ?? [];
  return (
    <Typed
      {...rest}
      label={mixed ? `${label} (mixed)` : label}
      shown={mixed ? '' : text(values[0] ?? 0)}
      unit={unit}
      step={(by) => void onChange(values.map((value) => Number(text(value)) + by))}
      scrub={{
        shows: (steps) => (mixed ? `${steps < 0 ? '' : '+'}${text(steps)}` : text((values[0] ?? 0) + steps)),
        take: (steps) => onChange(values.map((value) => Number(text(value + steps)))),
      }}
      preview={async (typed) => {
        if (isPlain(typed)) return undefined;
        const few = new Set((await found(typed, values.slice(0, 4))).map(text));
        return `= ${[...few].join(', ')}${values.length > 4 ? ', …' : ''} ${unit}`.trim();
      }}
      take={async (typed) => {
        const numbers = await found(typed, values);
        await carriedOut(() => onChange(numbers));
      }}
    />
  );
}

/** Places in pixels after one another, typed all at once: x, y; x, y. */
export function PlacesField({
  places,
  onChange,
  ...rest
}: Common & { places: readonly (readonly number[])[]; onChange: (places: [number, number][]) => unknown }) {
  const shown = places.map((p) => p.map((v) => Number(v.toFixed(2))).join(', ')).join('; ');
  return (
    <Typed
      {...rest}
      shown={shown}
      take={async (text) => {
        const numbers = text
          .split(/[\s,;]+/)
          .filter(Boolean)
          .map(Number);
        if (numbers.length !== 2 * places.length || numbers.some((v) => !Number.isFinite(v)))
          throw new Error(`Type ${places.length} places, such as ${shown}.`);
        await carriedOut(() =>
          onChange(places.map((_, i) => [numbers[2 * i] as number, numbers[2 * i + 1] as number])),
        );
      }}
    />
  );
}

export function TimeField({
  value,
  onChange,
  ...rest
}: Common & { value: number; onChange: (flicks: number) => unknown }) {
  const show = useShow();
  const rate = show?.frameRate ?? '25';
  const frame = show?.computed.flicksPerFrame ?? 28_224_000;
  const found = (text: string) => answer(http.POST('/timecode', { body: { text, frameRate: rate, present: value } }));
  const stepped = (frames: number) => Math.max(0, value + Math.round(frames) * frame);
  return (
    <Typed
      {...rest}
      shown={timecode(value, rate, frame)}
      step={(by) => void onChange(stepped(by))}
      scrub={{
        shows: (steps) => timecode(stepped(steps), rate, frame),
        take: (steps) => onChange(stepped(steps)),
      }}
      preview={async (text) => (/^\s*[\d:;]*\s*$/.test(text) ? undefined : `= ${(await found(text)).text}`)}
      take={async (text) => {
        const { flicks } = await found(text);
        await carriedOut(() => onChange(flicks));
      }}
    />
  );
}

export function NameField({
  value,
  onChange,
  ...rest
}: Common & { value: string; onChange: (value: string) => unknown }) {
  return <Typed {...rest} shown={value} take={(text) => carriedOut(() => onChange(text))} />;
}

/** A text of several lines; Ctrl Enter or leaving takes it, Escape lets go of it. */
export function TextArea({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (value: string) => unknown;
}) {
  const [text, setText] = useState<string | null>(null);
  const done = async () => {
    if (text !== null && text !== value) await onChange(text);
    setText(null);
  };
  return (
    <Textarea
      label={label}
      autosize
      minRows={2}
      maxRows={6}
      mb={8}
      classNames={{ input: 'mono' }}
      value={text ?? value}
      onChange={(e) => setText(e.currentTarget.value)}
      onBlur={() => void done()}
      onKeyDown={(e) => {
        if (e.key === 'Escape') setText(null);
        if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) void done();
        if (!e.altKey && !e.ctrlKey && !e.metaKey) e.stopPropagation();
      }}
    />
  );
}

export function Figures({ of }: { of: [string, ReactNode][] }) {
  return (
    <dl className="figures">
      {of.map(([name, value]) => (
        <div key={name} style={{ display: 'contents' }}>
          <dt>{name}</dt>
          <dd className="mono">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
