// Mantine's parts in our look: what each is by default, and the style sheet that dresses it.
import {
  ActionIcon,
  Anchor,
  Button,
  Checkbox,
  createTheme,
  HoverCard,
  Input,
  Loader,
  Menu,
  Modal,
  Popover,
  SegmentedControl,
  Select,
  Skeleton,
  Table,
  TextInput,
  Tooltip,
  type CSSVariablesResolver,
} from '@mantine/core';
import { Notification } from '@mantine/core';
import button from './Button.module.css';
import input from './Input.module.css';
import parts from './parts.module.css';
import table from './Table.module.css';
import { colours, mulberry, night, violetGrey } from './colours';

const quick = { duration: 80 };

export const theme = createTheme({
  primaryColor: 'mulberry',
  primaryShade: { light: 7, dark: 7 },
  colors: { mulberry, gray: violetGrey, dark: night },
  black: colours.ink[0],
  fontFamily: "'Atkinson Hyperlegible Next Variable', Verdana, sans-serif",
  fontFamilyMonospace: "'Atkinson Hyperlegible Mono Variable', monospace",
  fontSizes: { xs: '13px', sm: '14px', md: '15px', lg: '17px', xl: '23px' },
  headings: {
    fontWeight: '700',
    sizes: {
      h1: { fontSize: '23px', lineHeight: '1.25' },
      h2: { fontSize: '16px', lineHeight: '1.4' },
      h3: { fontSize: '15px', lineHeight: '1.4' },
    },
  },
  defaultRadius: 4,
  cursorType: 'pointer',
  respectReducedMotion: true,
  components: {
    ActionIcon: ActionIcon.extend({
      defaultProps: { variant: 'subtle', color: 'gray' },
      classNames: { root: parts.icon },
    }),
    Anchor: Anchor.extend({
      defaultProps: { underline: 'hover' },
      classNames: { root: parts.anchor },
    }),
    Button: Button.extend({ defaultProps: { size: 'sm' }, classNames: button }),
    Checkbox: Checkbox.extend({ defaultProps: { size: 'xs', radius: 3 } }),
    HoverCard: HoverCard.extend({ defaultProps: { radius: 4, shadow: 'sm', openDelay: 250 } }),
    Input: Input.extend({ classNames: input }),
    InputWrapper: Input.Wrapper.extend({ classNames: { description: parts.description } }),
    Loader: Loader.extend({ defaultProps: { size: 'xs', type: 'dots' } }),
    Menu: Menu.extend({ defaultProps: { radius: 4, shadow: 'sm', transitionProps: quick } }),
    Modal: Modal.extend({
      defaultProps: {
        radius: 4,
        transitionProps: { duration: 120 },
        overlayProps: { backgroundOpacity: 0.35 },
        closeButtonProps: { 'aria-label': 'Close' },
      },
      classNames: { title: parts.modalTitle },
    }),
    Notification: Notification.extend({
      defaultProps: { radius: 4, withBorder: true },
      classNames: { root: parts.notification, description: parts.notificationText },
    }),
    Popover: Popover.extend({ defaultProps: { radius: 4, shadow: 'sm', transitionProps: quick } }),
    SegmentedControl: SegmentedControl.extend({
      defaultProps: { withItemsBorders: false, transitionDuration: 120 },
      classNames: {
        root: parts.words,
        label: parts.word,
        control: parts.wordControl,
        indicator: parts.wordLine,
        innerLabel: parts.wordText,
      },
    }),
    Select: Select.extend({
      defaultProps: {
        allowDeselect: false,
        nothingFoundMessage: 'nothing of that name',
        comboboxProps: { shadow: 'sm', transitionProps: quick },
        maxDropdownHeight: 280,
      },
    }),
    Skeleton: Skeleton.extend({ defaultProps: { radius: 2 }, classNames: { root: parts.ghost } }),
    Table: Table.extend({ classNames: table }),
    TextInput: TextInput.extend({ defaultProps: { size: 'sm' } }),
    Tooltip: Tooltip.extend({ defaultProps: { openDelay: 350, transitionProps: quick } }),
  },
});

const variablesOf = (at: 0 | 1): Record<string, string> => ({
  ...Object.fromEntries(Object.entries(colours).map(([name, pair]) => [`--${name}`, pair[at]])),
  // The library's own error and placeholder colours are too pale for text.
  '--mantine-color-error': colours.wrong[at],
  '--mantine-color-placeholder': colours.placeholder[at],
  '--mantine-color-dimmed': colours.soft[at],
  '--mantine-color-text': colours.ink[at],
  '--mantine-color-body': colours.paper[at],
  '--mantine-color-anchor': colours.accent[at],
  '--mantine-color-default-border': colours.hair[at],
});

export const variables: CSSVariablesResolver = () => ({
  variables: {},
  light: variablesOf(0),
  dark: variablesOf(1),
});
