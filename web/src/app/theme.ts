import { Checkbox, createTheme, defaultVariantColorsResolver, type MantineColorsTuple } from '@mantine/core';

/** Our own ink, from the paper of a drawing office; shade 8 is what filled buttons use. */
const ink: MantineColorsTuple = [
  '#eef3f2',
  '#dbe3e1',
  '#c3cfcc',
  '#9fb0ac',
  '#7c908c',
  '#5d6a66',
  '#47575b',
  '#2d4147',
  '#14262b',
  '#0c181c',
];

export const theme = createTheme({
  primaryColor: 'ink',
  primaryShade: { light: 8, dark: 1 },
  colors: { ink },
  fontFamily: "'IBM Plex Sans Variable', system-ui, sans-serif",
  fontFamilyMonospace: "'IBM Plex Sans Variable', system-ui, sans-serif",
  defaultRadius: 2,
  headings: { fontWeight: '600' },
  respectReducedMotion: true,
  // filled ink is dark on the light page and light on the dark one: its text follows
  variantColorResolver: (input) => {
    const colours = defaultVariantColorsResolver(input);
    return input.variant === 'filled' ? { ...colours, color: 'var(--k-on-ink)' } : colours;
  },
  components: {
    CloseButton: { defaultProps: { 'aria-label': 'Close' } },
    Modal: { defaultProps: { closeButtonProps: { 'aria-label': 'Close' } } },
    Notification: { defaultProps: { closeButtonProps: { 'aria-label': 'Close this message' } } },
    Checkbox: Checkbox.extend({ defaultProps: { iconColor: 'var(--k-on-ink)' } }),
    // a list nobody has opened is not laid out with the page
    Combobox: { defaultProps: { keepMounted: false } },
  },
});
