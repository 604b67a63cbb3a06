import '@mantine/core/styles.css';
import '@mantine/notifications/styles.css';
import '@mantine/spotlight/styles.css';
import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/atkinson-hyperlegible-mono';
import './studio.css';
import { MantineProvider } from '@mantine/core';
import { Notifications } from '@mantine/notifications';
import { QueryClientProvider } from '@tanstack/react-query';
import { createRoot } from 'react-dom/client';
import { resolver, theme } from '../theme/theme';
import { App } from './App';
import { client, go, select, shownHead } from './store';
import { catchDownloads } from './tasks';

// By which tests go to a thing without looking for it.
Object.assign(window, { kiteStudio: { go, select, showAt: (engine: number) => shownHead()?.map.at(engine) ?? 0 } });

catchDownloads();

createRoot(document.getElementById('root') as HTMLElement).render(
  <MantineProvider theme={theme} cssVariablesResolver={resolver} defaultColorScheme="dark">
    <QueryClientProvider client={client}>
      <Notifications position="top-right" />
      <App />
    </QueryClientProvider>
  </MantineProvider>,
);
