import { createTheme, type MantineColorsTuple } from '@mantine/core';

const verdigris: MantineColorsTuple = [
  '#eef6f4',
  '#d8eae6',
  '#b3d6ce',
  '#8bc4b8',
  '#5db8a9',
  '#3c9a8b',
  '#1f7a6e',
  '#1a685e',
  '#15564e',
  '#0f433d',
];
const neutral: MantineColorsTuple = [
  '#fafafa',
  '#f1f1f1',
  '#e6e6e6',
  '#d4d4d4',
  '#bdbdbd',
  '#9a9a9a',
  '#707070',
  '#4d4d4d',
  '#333333',
  '#1c1c1c',
];
const dusk: MantineColorsTuple = [
  '#ececec',
  '#d0d0d0',
  '#b0b0b0',
  '#8c8c8c',
  '#5c5c5c',
  '#404040',
  '#303030',
  '#262626',
  '#1e1e1e',
  '#141414',
];

/** Neutral around the picture, one accent, 13 px type, 4 px corners. */
export const theme = createTheme({
  primaryColor: 'verdigris',
  primaryShade: { light: 6, dark: 4 },
  autoContrast: true,
  colors: { verdigris, gray: neutral, dark: dusk },
  black: '#1c1c1c',
  fontFamily: "'Commissioner Variable', system-ui, sans-serif",
  fontFamilyMonospace: "'Commissioner Variable', system-ui, sans-serif",
  fontSizes: { xs: '11.5px', sm: '13px', md: '13px', lg: '15px', xl: '18px' },
  defaultRadius: 4,
  radius: { xs: '2px', sm: '4px', md: '4px', lg: '4px', xl: '4px' },
  spacing: { xs: '8px', sm: '12px', md: '16px', lg: '20px', xl: '28px' },
  respectReducedMotion: true,
  cursorType: 'pointer',
  components: {
    Tooltip: { defaultProps: { openDelay: 400, withArrow: false, transitionProps: { duration: 100 } } },
    Button: { defaultProps: { size: 'compact-md' } },
    NumberInput: { defaultProps: { size: 'xs' } },
    TextInput: { defaultProps: { size: 'xs' } },
    SegmentedControl: { defaultProps: { size: 'xs', transitionDuration: 100 } },
    Switch: { defaultProps: { size: 'xs' } },
    ActionIcon: { defaultProps: { variant: 'subtle', color: 'gray', size: 28 } },
  },
});
