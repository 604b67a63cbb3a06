import { type CSSVariablesResolver, createTheme, type MantineColorsTuple } from '@mantine/core';
import { cssVariables, dusk, paper } from './tokens';

const shades = (colour: string) => Array(10).fill(colour) as unknown as MantineColorsTuple;

export const theme = createTheme({
  fontFamily: "'Atkinson Hyperlegible Next Variable', sans-serif",
  fontFamilyMonospace: "'Atkinson Hyperlegible Mono Variable', monospace",
  defaultRadius: 4,
  cursorType: 'pointer',
  primaryColor: 'kite',
  primaryShade: 5,
  autoContrast: true,
  fontSizes: { xs: '12px', sm: '13px', md: '14px', lg: '16px', xl: '20px' },
  colors: {
    kite: shades('var(--kl-kite)'),
    dark: [
      dusk.text,
      dusk.text,
      dusk.dim,
      dusk.dim,
      dusk.line,
      dusk.line,
      dusk.ink6,
      dusk.ink8,
      dusk.ink9,
      dusk.ink9,
    ] as unknown as MantineColorsTuple,
  },
  components: {
    Button: { defaultProps: { size: 'xs', color: 'kite' } },
    TextInput: { defaultProps: { size: 'xs' } },
    Select: { defaultProps: { size: 'xs' } },
    MultiSelect: { defaultProps: { size: 'xs' } },
    Switch: { defaultProps: { size: 'xs' } },
    Modal: { defaultProps: { shadow: 'none', closeButtonProps: { 'aria-label': 'Close' } } },
    Menu: { defaultProps: { shadow: 'none', transitionProps: { duration: 0 } } },
    Popover: { defaultProps: { shadow: 'none', transitionProps: { duration: 0 } } },
    Tooltip: { defaultProps: { openDelay: 400, withArrow: false } },
  },
});

const ofMantine = (scheme: 'dark' | 'light') => ({
  ...cssVariables(scheme === 'dark' ? dusk : paper),
  '--mantine-color-body': 'var(--kl-ink9)',
  '--mantine-color-text': 'var(--kl-text)',
  '--mantine-color-dimmed': 'var(--kl-dim)',
  '--mantine-color-default': 'var(--kl-ink6)',
  '--mantine-color-default-hover': 'var(--kl-ink7)',
  '--mantine-color-default-border': 'var(--kl-line)',
  '--mantine-color-default-color': 'var(--kl-text)',
  '--mantine-color-placeholder': 'var(--kl-dim)',
  '--mantine-color-error': 'var(--kl-fault)',
  '--mantine-color-kite-filled': 'var(--kl-kite)',
  '--mantine-color-kite-filled-hover': 'var(--kl-kite)',
  '--mantine-primary-color-contrast': 'var(--kl-onKite)',
  '--input-bg': 'var(--kl-ink7)',
});

export const resolver: CSSVariablesResolver = () => ({
  variables: {},
  dark: ofMantine('dark'),
  light: ofMantine('light'),
});
