import { useMantineColorScheme } from '@mantine/core';
import { Spotlight } from '@mantine/spotlight';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { useShow } from '../hooks';
import { showsQuery } from '../store';
import { actions } from './actions';
import { found } from './search';

export function Palette() {
  const [open, setOpen] = useState(false);
  // What can be done changes with what is loaded, also while the list is open.
  const show = useShow();
  const shows = useQuery(showsQuery).data;
  // biome-ignore lint/correctness/useExhaustiveDependencies: actions() reads them
  const list = useMemo(() => (open ? actions() : []), [open, show?.revision, shows]);
  const [query, setQuery] = useState('');
  const near = useMemo(() => found(query, list), [query, list]);
  const { setColorScheme } = useMantineColorScheme();
  useEffect(() => {
    const onTheme = (event: Event) => setColorScheme((event as CustomEvent<'dark' | 'light'>).detail);
    document.addEventListener('kite-theme', onTheme);
    return () => document.removeEventListener('kite-theme', onTheme);
  }, [setColorScheme]);
  return (
    <Spotlight
      query={query}
      onQueryChange={setQuery}
      filter={(_, groups) => groups}
      actions={near.list.slice(0, 12).map((a) => ({
        id: `${list.indexOf(a)}`,
        label: a.name,
        description: near.near ? 'Did you mean this?' : undefined,
        onClick: () => void a.run(),
        rightSection: a.keys === undefined ? undefined : <span className="mono dim">{a.keys}</span>,
      }))}
      onSpotlightOpen={() => setOpen(true)}
      onSpotlightClose={() => setOpen(false)}
      shortcut={['mod + K']}
      searchProps={{ placeholder: 'Search actions', 'aria-label': 'Search actions' }}
      nothingFound="No action of that name. Try another word: what it is called, or what it does."
      limit={12}
      transitionProps={{ duration: 0 }}
      scrollable
      maxHeight={420}
    />
  );
}
