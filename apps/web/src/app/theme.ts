// Mantine in our colours and type; everything else is in ui/look.css.
import { createTheme, type CSSVariablesResolver, type MantineColorsTuple } from '@mantine/core';

const mulberry: MantineColorsTuple = [
  '#F8EDF3',
  '#F0D9E5',
  '#E3C3D3',
  '#D29DB8',
  '#BE739A',
  '#A94C7E',
  '#9A3A6C',
  '#8A2B5B',
  '#71224A',
  '#581A3A',
];
const violetGrey: MantineColorsTuple = [
  '#F7F6FA',
  '#F0EEF5',
  '#E4E1EC',
  '#D3CFDF',
  '#B7B1C8',
  '#8F88A3',
  '#767089',
  '#625C73',
  '#453F56',
  '#1F1B2E',
];

const night: MantineColorsTuple = [
  '#F1EEF7',
  '#D6D0E2',
  '#B3ABC4',
  '#8F88A3',
  '#5A5368',
  '#453F56',
  '#2A2536',
  '#17141F',
  '#120F19',
  '#0C0A12',
];

export const theme = createTheme({
  primaryColor: 'mulberry',
  primaryShade: { light: 7, dark: 7 },
  colors: { mulberry, gray: violetGrey, dark: night },
  black: '#1F1B2E',
  fontFamily: "'Atkinson Hyperlegible Next Variable', Verdana, sans-serif",
  fontFamilyMonospace: "'Atkinson Hyperlegible Mono Variable', monospace",
  defaultRadius: 4,
  cursorType: 'pointer',
  respectReducedMotion: true,
  components: {
    Button: { defaultProps: { size: 'sm', fw: 700 } },
    Modal: {
      defaultProps: {
        radius: 4,
        transitionProps: { duration: 120 },
        overlayProps: { backgroundOpacity: 0.35 },
      },
    },
    Popover: { defaultProps: { radius: 4, shadow: 'sm', transitionProps: { duration: 80 } } },
    Menu: { defaultProps: { radius: 4, shadow: 'sm', transitionProps: { duration: 80 } } },
  },
});

/** Mantine's own error and placeholder colours are too pale for text. */
export const variables: CSSVariablesResolver = () => ({
  variables: {},
  light: {
    '--mantine-color-error': '#A1262B',
    '--mantine-color-placeholder': '#736D85',
    '--mantine-color-dimmed': '#625C73',
  },
  dark: {
    '--mantine-color-error': '#F08B8F',
    '--mantine-color-placeholder': '#A59DB6',
    '--mantine-color-dimmed': '#B3ABC4',
  },
});
