import { notifications } from '@mantine/notifications';
import { Problem } from '../api/client';

/** Says what was not done, and why. */
export function complain(error: unknown) {
  notifications.show({
    color: 'red',
    title: error instanceof Problem && error.clash ? 'Somebody else changed this' : 'Not done',
    message: error instanceof Error ? error.message : String(error),
    autoClose: 8000,
  });
}
