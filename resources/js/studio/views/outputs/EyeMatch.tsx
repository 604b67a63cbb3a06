import { useEffect, useState } from 'react';
import { answer, http } from '../../../api/client';
import { useShow } from '../../hooks';
import { command, complain, outputs as order } from '../../store';

const WAYS = [
  ['Brighter', { brighter: 1 }],
  ['Warmer', { warmer: 1 }],
  ['Greener', { greener: 1 }],
  ['Darker', { brighter: -1 }],
  ['Colder', { warmer: -1 }],
  ['Pinker', { greener: -1 }],
] as const;

/** Ms after which the real outputs are told again what they show alone. */
const AGAIN = 8000;

/** Two regions brought to one light by eye: halves of one patch side by side, the first of them changed in steps. */
export function EyeMatch({ regions, names }: { regions: readonly [string, string]; names: readonly [string, string] }) {
  const show = useShow();
  const [on, setOn] = useState(false);
  const [steps, setSteps] = useState(3);
  const [one, other] = regions;
  // What is shown alone in another way takes its place.
  useEffect(() => {
    const off = () => setOn(false);
    document.addEventListener('kite-shown-alone', off);
    return () => document.removeEventListener('kite-shown-alone', off);
  }, []);
  const id = show?.id ?? '';
  useEffect(() => {
    if (!on || id === '') return;
    document.dispatchEvent(new CustomEvent('kite-patch'));
    let ended = false;
    let again: ReturnType<typeof setInterval> | undefined;
    void answer(
      http.GET('/shows/{show}/halves', { params: { path: { show: id }, query: { regions: `${one},${other}` } } }),
    ).then(({ halves }) => {
      if (ended) return;
      const tell = () =>
        void command({ action: 'isolate', regions: [one, other], show: 'patch', patches: { ...halves } });
      tell();
      again = setInterval(tell, AGAIN);
    }, complain);
    return () => {
      ended = true;
      clearInterval(again);
      void command({ action: 'isolate', regions: [] });
    };
  }, [on, id, one, other]);
  return (
    <>
      <h3>Match by eye</h3>
      <p style={{ margin: '8px 0', display: 'flex', gap: 6, alignItems: 'center', flexWrap: 'wrap' }}>
        <button
          type="button"
          className="plain"
          aria-pressed={on}
          title="A white half of one patch each, side by side on the surface, without fades"
          onClick={() => setOn((v) => !v)}
        >
          Patch
        </button>
        <a href={`/align/${one}?with=${other}`} target="_blank" rel="noreferrer">
          On a phone
        </a>
      </p>
      <p className="dim" style={{ margin: '8px 0', fontSize: 13 }}>
        {names[0]} is changed; {names[1]} only gives way.
      </p>
      <div className="row3">
        {WAYS.map(([name, way]) => (
          <button
            key={name}
            type="button"
            className="plain"
            onClick={() =>
              void order({
                action: 'eye',
                regions: [one, other],
                ...Object.fromEntries(Object.entries(way).map(([of, by]) => [of, by * steps])),
              })
            }
          >
            {name}
          </button>
        ))}
      </div>
      <div role="radiogroup" aria-label="Steps" style={{ display: 'flex', gap: 6, marginTop: 8 }}>
        {[1, 3, 10].map((by) => (
          <button
            key={by}
            type="button"
            role="radio"
            aria-checked={steps === by}
            className="plain"
            onClick={() => setSteps(by)}
          >
            {by} %
          </button>
        ))}
      </div>
    </>
  );
}
