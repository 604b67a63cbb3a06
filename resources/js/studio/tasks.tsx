import { notifications } from '@mantine/notifications';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, http, Problem, type Schemas } from '../api/client';
import { complain } from './complain';

/** What the worker does for somebody. */
export type Task = Schemas['Task'];

const EVERY_MS = 300;

export const isOpen = (task: Task | null) => task !== null && ['waiting', 'working', 'writing'].includes(task.state);

const at = (id: string) => ({ params: { path: { task: id } } });
const cancelled = (id: string) => answer(http.POST('/tasks/{task}/cancel', at(id)));

/** A task that a view begins, follows and stops by itself. */
export function useTask(onReady?: () => void) {
  const [task, setTask] = useState<Task | null>(null);
  const running = isOpen(task);
  useQuery({
    queryKey: ['task', task?.id],
    queryFn: async () => {
      const next = await answer(http.GET('/tasks/{task}', at(task?.id ?? '')));
      setTask(next);
      if (next.state === 'ready') onReady?.();
      return next;
    },
    enabled: running,
    refetchInterval: running ? EVERY_MS : false,
    staleTime: 0,
  });
  const take = (call: Promise<{ data?: Task }>) => void answer(call).then(setTask, complain);
  return {
    task,
    running,
    begin: take,
    cancel: () => task !== null && void cancelled(task.id).then(setTask, complain),
  };
}

/** Follows a task in a notice, with how far it is and a button that stops it; null when it was stopped. */
export async function follow(first: Task, title: string): Promise<Task | null> {
  let task = first;
  const shown = () => ({
    id: first.id,
    title,
    autoClose: false as const,
    withCloseButton: false,
    message: (
      <span className="task">
        <progress max={1} value={task.progress > 0 ? task.progress : undefined} aria-label={title} />
        <button
          type="button"
          className="plain"
          disabled={task.state === 'writing'}
          onClick={() => void cancelled(first.id).catch(complain)}
        >
          Cancel
        </button>
      </span>
    ),
  });
  notifications.show(shown());
  try {
    while (isOpen(task)) {
      await new Promise((soon) => setTimeout(soon, EVERY_MS));
      task = await answer(http.GET('/tasks/{task}', at(first.id)));
      notifications.update(shown());
    }
  } finally {
    notifications.hide(first.id);
  }
  if (task.state === 'failed') throw new Problem({ status: 422, detail: task.message ?? `${title}: failed` });
  return task.state === 'ready' ? task : null;
}

const nameOf = (response: Response) =>
  decodeURIComponent(
    /filename\*=UTF-8''([^;]+)/.exec(response.headers.get('Content-Disposition') ?? '')?.[1] ?? 'file',
  );

/** Fetches a file of the API and hands it over; where it takes long, the worker makes it meanwhile. */
export async function download(path: string) {
  try {
    for (;;) {
      const response = await fetch(path, { headers: { Prefer: 'respond-async' } }).catch(() => null);
      if (response === null) throw Problem.unreachable();
      if (!response.ok) throw await Problem.of(response);
      if (response.status !== 202) {
        const link = document.createElement('a');
        link.href = URL.createObjectURL(await response.blob());
        link.download = nameOf(response);
        link.click();
        setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
        return;
      }
      // Once it is made it is kept, unless the show was changed meanwhile: then it is made again.
      if ((await follow(await response.json(), 'Making the file')) === null) return;
    }
  } catch (error) {
    complain(error);
  }
}

/** Links to files of the API are fetched with progress; with a modifier key the browser does what it does with any. */
export function catchDownloads() {
  document.addEventListener('click', (event) => {
    const link =
      event.target instanceof Element ? event.target.closest<HTMLAnchorElement>('a[download][href^="/api/"]') : null;
    if (link === null || event.ctrlKey || event.metaKey || event.shiftKey || event.altKey) return;
    event.preventDefault();
    void download(link.getAttribute('href') as string);
  });
}
