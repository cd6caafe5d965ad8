/** The MUI theme: the look in the words of the component library. */
import { createTheme } from '@mui/material/styles';

const ui = '"Atkinson Hyperlegible Next", system-ui, sans-serif';
const title = '"Literata", Georgia, serif';
const mono = '"JetBrains Mono", ui-monospace, monospace';

const light = {
  mode: 'light' as const,
  primary: { main: '#1d4f3c', dark: '#143a2c', light: '#e0eadf', contrastText: '#fffdf6' },
  secondary: { main: '#e3a31c', dark: '#7d5200', light: '#fbecc8', contrastText: '#24211b' },
  warning: { main: '#7d5200', light: '#fbecc8', contrastText: '#fffdf6' },
  error: { main: '#a3262c', light: '#f8e3dd', contrastText: '#fffdf6' },
  success: { main: '#1d4f3c', light: '#e0eadf', contrastText: '#fffdf6' },
  info: { main: '#5b5446', light: '#ebe4d5', contrastText: '#fffdf6' },
  text: { primary: '#24211b', secondary: '#5b5446', disabled: '#675f4f' },
  background: { default: '#f4eee2', paper: '#fffefb' },
  divider: '#dcd3c1',
  action: { hover: '#ebe4d5', selected: '#e0eadf', disabled: '#675f4f', disabledBackground: '#ebe4d5' },
};
const dark = {
  mode: 'dark' as const,
  primary: { main: '#86c8a8', dark: '#a5dcc0', light: '#22392e', contrastText: '#10241b' },
  secondary: { main: '#f0b53f', dark: '#f3c56a', light: '#3d3018', contrastText: '#1c1a16' },
  warning: { main: '#f3c56a', light: '#3d3018', contrastText: '#1c1a16' },
  error: { main: '#f0938a', light: '#43241f', contrastText: '#1c1a16' },
  success: { main: '#86c8a8', light: '#22392e', contrastText: '#10241b' },
  info: { main: '#bcb29e', light: '#322e25', contrastText: '#1c1a16' },
  text: { primary: '#eee7d8', secondary: '#bcb29e', disabled: '#a89e8a' },
  background: { default: '#1c1a16', paper: '#2f2c23' },
  divider: '#3d392f',
  action: { hover: '#322e25', selected: '#22392e', disabled: '#a89e8a', disabledBackground: '#322e25' },
};
const rule2 = 'var(--rule2)'; // control edges; set beside the palette, as are --sheet --bench --h0..--h5 --c1..--c8

export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-theme' },
  colorSchemes: { light: { palette: light }, dark: { palette: dark } },
  spacing: 4,
  shape: { borderRadius: 3 },
  shadows: Array(25).fill('none') as never,
  transitions: { duration: { shortest: 80, shorter: 100, short: 120, standard: 140, complex: 180, enteringScreen: 140, leavingScreen: 100 } },
  typography: {
    fontFamily: ui,
    fontSize: 13,
    htmlFontSize: 16,
    h1: { fontFamily: title, fontWeight: 600, fontSize: 24, lineHeight: '32px' },
    h2: { fontFamily: title, fontWeight: 600, fontSize: 19, lineHeight: '24px' },
    h3: { fontFamily: title, fontWeight: 600, fontSize: 17, lineHeight: '24px' },
    h4: { fontFamily: title, fontWeight: 600, fontSize: 15, lineHeight: '24px' },
    h5: { fontFamily: title, fontWeight: 500, fontStyle: 'italic', fontSize: 13, lineHeight: '20px' },
    body1: { fontSize: 14, lineHeight: '20px' },
    body2: { fontSize: 13, lineHeight: '20px' },
    caption: { fontSize: 12, lineHeight: '16px' },
    button: { fontSize: 13, lineHeight: '20px', fontWeight: 600, textTransform: 'none' },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        body: { fontSize: 13, lineHeight: '20px', fontVariantNumeric: 'tabular-nums lining-nums' },
        code: { fontFamily: mono, fontSize: 12, fontVariantLigatures: 'none' },
      },
    },
    MuiButtonBase: {
      defaultProps: { disableRipple: true },
      styleOverrides: { root: ({ theme: t }) => ({ '&.Mui-focusVisible': { outline: `2px solid ${t.vars.palette.primary.main}`, outlineOffset: 2 } }) },
    },
    MuiButton: {
      defaultProps: { disableElevation: true, color: 'inherit' },
      styleOverrides: {
        root: ({ theme: t }) => ({
          height: 28,
          minWidth: 0,
          padding: '0 12px',
          '@media (pointer:coarse)': { height: 44 },
          '&:hover': { backgroundColor: t.vars.palette.action.hover },
        }),
        contained: ({ theme: t }) => ({
          backgroundColor: t.vars.palette.primary.main,
          color: t.vars.palette.primary.contrastText,
          '&:hover': { backgroundColor: t.vars.palette.primary.dark },
        }),
        outlined: { borderColor: rule2 },
        text: { padding: '0 8px', fontWeight: 500 },
        startIcon: { marginRight: 6, marginLeft: 0, '& svg': { width: 16, height: 16 } },
      },
    },
    MuiIconButton: { styleOverrides: { root: { width: 28, height: 28, borderRadius: 3, padding: 0, color: 'inherit' } } },
    MuiTextField: { defaultProps: { variant: 'standard', fullWidth: true, slotProps: { inputLabel: { shrink: true } } } },
    // What stands for nothing chosen is said like every other choice.
    MuiSelect: { defaultProps: { displayEmpty: true } },
    MuiInputLabel: {
      styleOverrides: {
        root: ({ theme: t }) => ({
          position: 'static',
          transform: 'none',
          fontSize: 12,
          lineHeight: '16px',
          marginBottom: 2,
          color: t.vars.palette.text.secondary,
          '&.Mui-focused': { color: t.vars.palette.text.secondary },
          '&.Mui-error': { color: t.vars.palette.text.secondary },
        }),
        asterisk: ({ theme: t }) => ({ color: t.vars.palette.error.main, fontWeight: 700 }),
      },
    },
    // A browser that fills in a value would move the label, and ours stays where it is: each input would bring a style sheet for it.
    MuiInputBase: { defaultProps: { disableInjectingGlobalStyles: true } },
    MuiInput: {
      styleOverrides: {
        root: ({ theme: t }) => ({
          minHeight: 28,
          padding: '0 8px',
          borderRadius: '3px 3px 0 0',
          backgroundColor: t.vars.palette.background.paper,
          fontSize: 13,
          '&&': { marginTop: 0 },
          '&::before': { borderBottomColor: rule2 },
          '&:hover:not(.Mui-disabled, .Mui-error)::before': { borderBottom: `1px solid ${t.vars.palette.text.primary}` },
          '&::after': { borderBottomWidth: 2, transition: 'none' },
          '&.Mui-error::before': { borderBottomWidth: 2, borderBottomColor: t.vars.palette.error.main },
        }),
        input: { padding: 0, height: 20 },
      },
    },
    MuiFormHelperText: { styleOverrides: { root: { fontSize: 12, lineHeight: '16px', marginTop: 4 } } },
    MuiCheckbox: { defaultProps: { size: 'small' }, styleOverrides: { root: { padding: 6, color: rule2, '& svg': { width: 18, height: 18 } } } },
    MuiFormControlLabel: { styleOverrides: { root: { marginLeft: -6 }, label: { fontSize: 13 } } },
    MuiToggleButtonGroup: { styleOverrides: { root: { height: 28, border: `1px solid ${rule2}`, borderRadius: 3, overflow: 'hidden' } } },
    MuiToggleButton: {
      styleOverrides: {
        root: ({ theme: t }) => ({
          border: 0,
          borderRadius: 0,
          padding: '0 10px',
          fontWeight: 400,
          color: t.vars.palette.text.primary,
          backgroundColor: t.vars.palette.background.paper,
          '& + &': { borderLeft: `1px solid ${t.vars.palette.divider} !important` },
          '&.Mui-selected': {
            fontWeight: 700,
            color: t.vars.palette.primary.main,
            backgroundColor: t.vars.palette.primary.light,
            boxShadow: `inset 0 -2px 0 ${t.vars.palette.primary.main}`,
          },
        }),
      },
    },
    MuiTabs: { styleOverrides: { root: { minHeight: 28 }, indicator: { height: 2, transition: 'none' } } },
    MuiTab: {
      styleOverrides: {
        root: ({ theme: t }) => ({
          minHeight: 28,
          minWidth: 0,
          padding: 0,
          marginRight: 16,
          fontWeight: 400,
          color: t.vars.palette.text.secondary,
          '&.Mui-selected': { fontWeight: 700, color: t.vars.palette.text.primary },
        }),
      },
    },
    MuiChip: {
      styleOverrides: {
        root: ({ theme: t }) => ({
          height: 24,
          borderRadius: 3,
          fontSize: 13,
          backgroundColor: t.vars.palette.background.paper,
          border: `1px solid ${t.vars.palette.divider}`,
          borderBottomColor: rule2,
        }),
        label: { padding: '0 8px' },
      },
    },
    MuiTableCell: {
      styleOverrides: {
        root: ({ theme: t }) => ({ height: 24, padding: '0 8px', fontSize: 13, lineHeight: '20px', borderBottom: `1px solid ${t.vars.palette.divider}` }),
        head: ({ theme: t }) => ({ fontWeight: 600, borderBottomColor: t.vars.palette.text.primary, verticalAlign: 'bottom', backgroundColor: 'transparent' }),
        footer: ({ theme: t }) => ({
          color: t.vars.palette.text.primary,
          fontWeight: 600,
          borderTop: `1px solid ${t.vars.palette.text.primary}`,
          borderBottom: `3px double ${t.vars.palette.text.primary}`,
        }),
      },
    },
    MuiTableBody: { styleOverrides: { root: { '& tr:last-child > td': { borderBottom: 0 } } } },
    MuiListItemButton: {
      styleOverrides: {
        root: ({ theme: t }) => ({
          height: 26,
          padding: '0 12px 0 11px',
          boxShadow: `inset 3px 0 0 ${t.vars.palette.divider}`,
          '&.Mui-selected': {
            marginLeft: 6,
            boxShadow: `inset 5px 0 0 ${t.vars.palette.primary.main}`,
            color: t.vars.palette.primary.main,
            fontWeight: 700,
            backgroundColor: 'var(--sheet)',
          },
        }),
      },
    },
    MuiAlert: {
      defaultProps: { icon: false },
      styleOverrides: {
        root: ({ theme: t }) => ({ padding: '6px 10px', borderRadius: 0, borderLeft: '3px solid', color: t.vars.palette.text.primary, fontSize: 13 }),
        message: { padding: 0 },
      },
    },
    MuiMenu: { defaultProps: { transitionDuration: 0 } },
    MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiPopover: { styleOverrides: { paper: { border: `1px solid ${rule2}`, boxShadow: '0 2px 0 rgb(36 33 27 / 8%)' } } },
    MuiMenuItem: { styleOverrides: { root: { minHeight: 26, fontSize: 13, padding: '2px 10px', '@media (pointer:coarse)': { minHeight: 44 } } } },
    MuiDialog: { styleOverrides: { paper: { border: `1px solid ${rule2}`, borderTop: '4px solid var(--roller)', borderRadius: 0, maxWidth: 440 } } },
    MuiTooltip: {
      defaultProps: { enterDelay: 400 },
      styleOverrides: {
        tooltip: ({ theme: t }) => ({
          fontSize: 12,
          lineHeight: '16px',
          backgroundColor: t.vars.palette.text.primary,
          color: t.vars.palette.background.default,
          borderRadius: 2,
          padding: '4px 8px',
        }),
      },
    },
    MuiLinearProgress: { styleOverrides: { root: { height: 3, borderRadius: 0 } } },
  },
});
