import { useMantineColorScheme } from '@mantine/core';
import { Spotlight } from '@mantine/spotlight';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { useShow } from '../hooks';
import { showsQuery } from '../store';
import { actions } from './actions';

export function Palette() {
  const [open, setOpen] = useState(false);
  // What can be done changes with what is loaded, also while the list is open.
  const show = useShow();
  const shows = useQuery(showsQuery).data;
  // biome-ignore lint/correctness/useExhaustiveDependencies: actions() reads them
  const list = useMemo(() => (open ? actions() : []), [open, show?.revision, shows]);
  const { setColorScheme } = useMantineColorScheme();
  useEffect(() => {
    const onTheme = (event: Event) => setColorScheme((event as CustomEvent<'dark' | 'light'>).detail);
    document.addEventListener('kite-theme', onTheme);
    return () => document.removeEventListener('kite-theme', onTheme);
  }, [setColorScheme]);
  return (
    <Spotlight
      actions={list.map((a, i) => ({ id: String(i), label: a.name, onClick: () => void a.run(), rightSection: a.keys === undefined ? undefined : <span className="mono dim">{a.keys}</span> }))}
      onSpotlightOpen={() => setOpen(true)}
      onSpotlightClose={() => setOpen(false)}
      shortcut={['mod + K']}
      searchProps={{ placeholder: 'What shall be done?', 'aria-label': 'Find an action' }}
      nothingFound="Nothing goes by that name."
      limit={12}
      transitionProps={{ duration: 0 }}
      scrollable
      maxHeight={420}
    />
  );
}
