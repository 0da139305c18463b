/**
 * The colours of Nevefield, the one place where they stand: the styles have them as variables
 * (`--snow`; `virtual:palette.css` is written from here at the build), the library as tokens.
 */
export const LIGHT = {
  snow: '#fbfcfa',
  shade: '#eef1ed',
  drift: '#e2e7e1',
  line: '#cdd5ce',
  paper: '#fff',
  ink: '#15212a',
  ink2: '#51616b',
  ink3: '#84929a',
  fir: '#14484a',
  'fir-soft': '#ddebe8',
  'on-fir': '#fff',
  new: '#2f6fa8',
  'new-ink': '#22598c',
  changed: '#7357a4',
  'changed-ink': '#5e4590',
  'changed-light': '#8269b0',
  same: '#b9c3c4',
  'same-ink': '#15212a',
  waiting: '#c08a12',
  'waiting-fill': '#e9c46a',
  'waiting-edge': '#b07c0a',
  'waiting-ink': '#7a5606',
  stopped: '#c2452d',
  'stopped-ink': '#b53d26',
  held: '#3e4c57',
  absent: '#8a6a45',
  'absent-ink': '#5f4629',
  'stop-soft': '#fbeae5',
  'ask-soft': '#faf1da',
  'new-soft': '#e3edf6',
  'row-on': '#f1f5ee',
  accepted: '#9dbdb4',
  ready: '#5c7a99',
  spark1: '#7c9aa0',
  spark2: '#9db4b5',
  spark3: '#b9c9c8',
  spark4: '#d2dcd9',
} as const

export type Colour = keyof typeof LIGHT
export type Palette = Record<Colour, string>

/** What is another colour in the dark. */
const DIFFERENT: Partial<Palette> = {
  snow: '#18222a',
  shade: '#10181e',
  drift: '#26323a',
  line: '#3a4851',
  paper: '#1e2a33',
  ink: '#e8eeea',
  ink2: '#adb9bf',
  ink3: '#7f8d95',
  fir: '#7fc4bb',
  'new-ink': '#8fc1ea',
  'changed-ink': '#c3aee8',
  'fir-soft': '#1f3b3c',
  'on-fir': '#0d1a1b',
  same: '#4d5b62',
  'same-ink': '#e8eeea',
  waiting: '#dba62f',
  'waiting-fill': '#7a5a12',
  'waiting-edge': '#e0ae3c',
  'waiting-ink': '#e3b44e',
  'stopped-ink': '#f08a73',
  held: '#a9b6bf',
  absent: '#b8946a',
  'absent-ink': '#d9bd98',
  'stop-soft': '#3a211c',
  'ask-soft': '#362c16',
  'new-soft': '#1b2d3d',
  'row-on': '#1f2e30',
  accepted: '#3d5f58',
  ready: '#4a6886',
}
export const DARK: Palette = { ...LIGHT, ...DIFFERENT }

const variables = (scheme: string, colours: Partial<Palette>): string =>
  `:root{color-scheme:${scheme};${Object.entries(colours)
    .map(([name, colour]) => `--${name}:${colour}`)
    .join(';')}}`

/** The palette as a style sheet; on paper it is always the light one. */
export const paletteCss = (): string =>
  `${variables('light', LIGHT)}@media screen and (prefers-color-scheme:dark){${variables(
    'dark',
    DIFFERENT,
  )}}`
