import { Textarea, TextInput } from '@mantine/core';
import { type KeyboardEvent, type ReactNode, type SubmitEvent, useRef, useState } from 'react';
import { answer, http, Problem } from '../../api/client';
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

/** Sends a form off once all that was typed into its fields has been taken; one with a field that was not taken stays. */
export const submitted = (send: () => unknown) => (event: SubmitEvent<HTMLFormElement>) => {
  event.preventDefault();
  const form = event.currentTarget;
  if (taking.size > 0) void Promise.allSettled([...taking]).then(() => setTimeout(() => form.requestSubmit()));
  else if (form.querySelector('[aria-invalid=true]') === null) void send();
};

/** A field that keeps what is typed until Enter or leaving, and says under itself why a text was not taken. */
function Typed({
  label,
  shown,
  take,
  step,
  unit,
  hint,
  tell,
  ...rest
}: Common & {
  shown: string;
  unit?: string;
  take: (text: string) => Promise<void>;
  step?: (by: number) => void;
  tell?: (text: string) => string | undefined;
}) {
  const [text, setText] = useState<string | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [typing, setTyping] = useState(false);
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
      label={label}
      value={text ?? shown}
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
      {...(typing && (hint ?? (text === null ? undefined : tell?.(text))) !== undefined
        ? { description: hint ?? tell?.(text ?? '') }
        : {})}
    />
  );
}

/** A number with its unit. Takes arithmetic and other units; the arrow keys step it. */
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
  const shown = String(Number(present.toFixed(digits)));
  return (
    <Typed
      {...rest}
      shown={shown}
      unit={unit}
      tell={(text) =>
        /^\s*[+−-]\s*[\d.]+\s*%\s*$/.test(text)
          ? `${text.trim()} of the present ${shown} ${unit}`.trim()
          : /^\s*[+*/×÷]/.test(text)
            ? `From the present ${shown} ${unit}`.trim()
            : undefined
      }
      step={(by) => void onChange((Number(shown) + by * step) / scale)}
      take={async (text) => {
        const { value: result = 0 } = await answer(http.POST('/arithmetic', { body: { text, unit, present } }));
        await onChange(result / scale);
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
  const text = (value: number) => String(Number(value.toFixed(digits)));
  const mixed = values.some((value) => text(value) !== text(values[0] ?? 0));
  return (
    <Typed
      {...rest}
      label={mixed ? `${label} (mixed)` : label}
      shown={mixed ? '' : text(values[0] ?? 0)}
      unit={unit}
      step={(by) => void onChange(values.map((value) => Number(text(value)) + by))}
      take={async (typed) => {
        const { values: found = [] } = await answer(
          http.POST('/arithmetic', { body: { text: typed, unit, presents: [...values] } }),
        );
        await onChange(found);
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
        await onChange(places.map((_, i) => [numbers[2 * i] as number, numbers[2 * i + 1] as number]));
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
  return (
    <Typed
      {...rest}
      shown={timecode(value, rate, frame)}
      step={(by) => void onChange(Math.max(0, value + by * frame))}
      take={async (text) => {
        const { flicks } = await answer(http.POST('/timecode', { body: { text, frameRate: rate, present: value } }));
        await onChange(flicks);
      }}
    />
  );
}

export function NameField({
  value,
  onChange,
  ...rest
}: Common & { value: string; onChange: (value: string) => unknown }) {
  return <Typed {...rest} shown={value} take={async (text) => void (await onChange(text))} />;
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
