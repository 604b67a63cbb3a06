import { useMantineColorScheme } from '@mantine/core';
import { Spotlight } from '@mantine/spotlight';
import { useEffect, useState } from 'react';
import { actions } from './actions';

export function Palette() {
  const [list, setList] = useState<ReturnType<typeof actions>>([]);
  const { setColorScheme } = useMantineColorScheme();
  useEffect(() => {
    const onTheme = (event: Event) => setColorScheme((event as CustomEvent<'dark' | 'light'>).detail);
    document.addEventListener('kite-theme', onTheme);
    return () => document.removeEventListener('kite-theme', onTheme);
  }, [setColorScheme]);
  return (
    <Spotlight
      actions={list.map((a, i) => ({ id: String(i), label: a.name, onClick: () => void a.run(), rightSection: a.keys === undefined ? undefined : <span className="mono dim">{a.keys}</span> }))}
      onSpotlightOpen={() => setList(actions())}
      shortcut={['mod + K']}
      searchProps={{ placeholder: 'What shall be done?', 'aria-label': 'Find an action' }}
      nothingFound="Nothing goes by that name."
      limit={12}
      scrollable
      maxHeight={420}
    />
  );
}
