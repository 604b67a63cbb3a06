import { notifications } from '@mantine/notifications';
import { Problem } from '../api/client';

let refused: { times: number; last: unknown } = { times: 0, last: null };

/** How often something was not done, and why it was not the last time. */
export const refusals = () => refused;

/** Says what was not done, and why. */
export function complain(error: unknown) {
  refused = { times: refused.times + 1, last: error };
  notifications.show({
    color: 'red',
    title: error instanceof Problem && error.clash ? 'Somebody else changed this' : 'Not done',
    message: error instanceof Error ? error.message : String(error),
    autoClose: 8000,
  });
}
