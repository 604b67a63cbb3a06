// Requests that nobody would send, over real HTTP, to every address of docs/openapi.json and of the engine: half of them
// altered at random, with a stated seed.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { at, root } from './stack.mjs';

const document = JSON.parse(readFileSync(join(root, 'docs/openapi.json'), 'utf8'));
const expensive = new RegExp(readFileSync(join(root, 'deploy/expensive.txt'), 'utf8').trim());
const NONSENSE = [
  ...['null', 'true', '0', '-1', '1', '0.5', '1e15', '1e308', '1e309', '-1e309', '9223372036854775808', '1e-320', '2147483648', '[]', '{}', '[[]]', '[null]', '{"a":1}', '[[[[[[[[]]]]]]]]'],
  ...['', ' ', 'x', '-', 'NaN', '\u0000', '\uffff', '🚀', 'é', '../../.env', '=1+1', "'; drop table shows; --", '<b>', 'a'.repeat(300), '9'.repeat(400), '01hzzzzzzzzzzzzzzzzzzzzzzz'].map((text) => JSON.stringify(text)),
];
const COMMANDS = ['play', 'pause', 'jump', 'live', 'fire', 'release', 'releaseAll', 'next', 'back', 'watch', 'look', 'clockStep', 'rate', 'lock', 'report', 'nothing'];

/** Numbers that look random and are the same each time: a linear congruence of 32 bits. */
function numbers(seed) {
  let state = seed;
  const below = (n) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 2 ** 32) * n);
  };
  return { below, one: (list) => list[below(list.length)] };
}

/**
 * Asks, a number of requests at once.
 *
 * @returns counts by status, what was answered by a fault, and how long those took that are not said to be expensive, in ms
 */
export async function fuzz(stack, show, count, seed = 20_261, together = 8) {
  const { below, one } = numbers(seed);
  const ids = Object.values((await stack.ask(`/api/shows/${show}`)).rows).flatMap((rows) => rows.slice(0, 50).map((row) => row.id));
  const nonsense = () => (below(6) === 0 ? `[${Array.from({ length: below(4) }, nonsense)}]` : below(8) === 0 ? JSON.stringify(one(ids)) : one(NONSENSE));
  const fitting = (given, depth = 0) => {
    if (below(8) === 0) return nonsense();
    const named = given.$ref === undefined ? given : document.components.schemas[given.$ref.split('/').at(-1)];
    const schema = named.allOf === undefined ? named : { ...named, ...named.allOf.map((s) => (s.$ref === undefined ? s : document.components.schemas[s.$ref.split('/').at(-1)])).reduce((a, b) => ({ ...a, ...b, properties: { ...a.properties, ...b.properties } })) };
    if (schema.enum !== undefined) return JSON.stringify(one(schema.enum));
    switch (Array.isArray(schema.type) ? one(schema.type) : schema.type) {
      case 'object':
        return `{${Object.entries(schema.properties ?? {})
          .filter(([name]) => (schema.required ?? []).includes(name) || below(2) === 0)
          .map(([name, of]) => `${JSON.stringify(name)}:${fitting(of, depth + 1)}`)}}`;
      case 'array':
        return `[${Array.from({ length: depth > 4 ? 0 : below(5) }, () => fitting(schema.items ?? {}, depth + 1))}]`;
      case 'string':
        return JSON.stringify(below(2) === 0 ? one(ids) : one(['Quay', '10:00:00:00', '9m / 2.5mm', '#ff8800', 'x', `layer:${ids[0]}/opacity`]));
      case 'integer':
        return String(below(42) - 2);
      case 'number':
        return String((below(4000) - 2000) / 100);
      case 'boolean':
        return below(2) === 0 ? 'true' : 'false';
      default:
        return nonsense();
    }
  };
  const part = (name) => (below(5) > 0 ? ({ show, format: 'csv' }[name] ?? one(ids)) : encodeURIComponent(one(['x', '0', '\u0000', 'é', 'a'.repeat(500), '%', '..', show, '01HZZZZZZZZZZZZZZZZZZZZZZZ\n'])));
  const query = (name) => [`${name}[]=x`, `${name}[a][b]=1`, '', `${name}=${encodeURIComponent(one(['', '-1', '1e309', 'x', '9'.repeat(20), '\uffff', '0.5', '%00', '7'.repeat(300)]))}`, `${name}=${{ width: 64, height: 48, time: 0, at: 0, spares: 5 }[name] ?? one(ids)}`][below(5)];

  const calls = Object.entries(document.paths).flatMap(([path, methods]) =>
    Object.entries(methods)
      .filter(([method]) => method !== 'parameters' && !(method === 'delete' && path === '/shows/{show}') && !path.endsWith('/engage'))
      .map(([method, call]) => ({ path, method: method.toUpperCase(), call, parameters: [...(methods.parameters ?? []), ...(call.parameters ?? [])] })),
  );
  const make = (n) => {
    if (n % (calls.length + 3) >= calls.length) {
      const body = below(3) === 0 ? nonsense() : `{"action":${JSON.stringify(one(COMMANDS))},"${one(['time', 'values', 'cue', 'stream', 'show', 'rate', 'fire', 'timeline'])}":${nonsense()}}`;
      return below(4) === 0 ? { method: 'GET', path: '/live/state' } : { method: 'POST', path: '/live/command', body, type: 'application/json' };
    }
    const { path, method, call, parameters } = calls[n % (calls.length + 3)];
    let address = `/api${path}`;
    for (const { name, in: where } of parameters) if (where === 'path') address = address.replace(`{${name}}`, part(name));
    const asked = parameters.filter((p) => p.in !== 'path').map((p) => query(p.name)).filter(Boolean);
    const [type, content] = Object.entries(call.requestBody?.content ?? { 'application/json': { schema: {} } })[0];
    const body = method === 'GET' ? undefined : content.schema === undefined || Object.keys(content.schema).length === 0 ? '{}' : type === 'application/json' ? fitting(content.schema) : 'x'.repeat(below(2000));
    return { method, path: address + (asked.length === 0 ? '' : `?${asked.join('&')}`), body, type };
  };
  const [statuses, faults, took, slow] = [{}, [], [], []];
  let next = 0;
  const ask = async () => {
    while (next < count) {
      const { method, path, body, type } = make(next++);
      const began = performance.now();
      try {
        const answer = await fetch(`${stack.address}${path}`, { method, headers: { ...stack.headers, ...(type === undefined ? {} : { 'Content-Type': type }) }, body });
        const text = Buffer.from(await answer.arrayBuffer()).toString('utf8', 0, 2000);
        const ms = performance.now() - began;
        statuses[answer.status] = (statuses[answer.status] ?? 0) + 1;
        const told = answer.headers.get('content-type')?.startsWith('application/problem+json') && /"detail":".+"/.test(text);
        if (answer.status >= 400 && (!told || (answer.status >= 500 && ![503, 507].includes(answer.status)))) faults.push(`${method} ${path} ${body?.slice(0, 300)} gives ${answer.status} ${text.slice(0, 200)}`);
        if (!expensive.test(path.split('?')[0])) {
          took.push(ms);
          if (ms > 2000) slow.push(`${method} ${path} took ${ms.toFixed(0)} ms`);
        }
      } catch (error) {
        faults.push(`${method} ${path} ${body?.slice(0, 300)} was not answered: ${error.cause?.code ?? error}`);
      }
    }
  };
  await Promise.all(Array.from({ length: together }, ask));
  return { addresses: calls.length, statuses, faults, slow, p50: at(took, 0.5), p99: at(took, 0.99), worst: Math.max(0, ...took) };
}
