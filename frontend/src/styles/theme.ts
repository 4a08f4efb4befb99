import { definePreset } from '@primeuix/themes'
import Aura from '@primeuix/themes/aura'

/** PrimeVue dressed for the bench: square corners, spruce actions, hairlines, no shadows. */
export const bench = definePreset(Aura, {
  primitive: {
    borderRadius: { none: '0', xs: '2px', sm: '2px', md: '3px', lg: '3px', xl: '4px' },
  },
  semantic: {
    transitionDuration: '0.08s',
    focusRing: { width: '2px', style: 'solid', color: '#1e5a4c', offset: '2px' },
    primary: {
      50: '#e6efeb',
      100: '#cfe0d9',
      200: '#a5c5b9',
      300: '#7aaa98',
      400: '#4a8371',
      500: '#1e5a4c',
      600: '#1a5043',
      700: '#164539',
      800: '#123a30',
      900: '#0d2a23',
      950: '#081a16',
    },
    formField: {
      paddingX: '0.6rem',
      paddingY: '0.4rem',
      shadow: 'none',
      focusRing: { width: '0', style: 'none', color: 'transparent', offset: '0', shadow: 'none' },
    },
    overlay: { select: { shadow: '0 2px 8px rgb(23 38 43 / 0.16)' } },
    colorScheme: {
      light: {
        surface: {
          0: '#ffffff',
          50: '#f5f7f4',
          100: '#edf1ee',
          200: '#dfe6e2',
          300: '#cbd5cf',
          400: '#8b9a94',
          500: '#51605f',
          600: '#4a5a5e',
          700: '#2c3c41',
          800: '#1d2d32',
          900: '#17262b',
          950: '#0e181b',
        },
        text: { color: '#17262b', mutedColor: '#4a5a5e' },
        primary: { color: '#1e5a4c', contrastColor: '#ffffff', hoverColor: '#164539', activeColor: '#123a30' },
        highlight: { background: '#e6efeb', focusBackground: '#cfe0d9', color: '#164539', focusColor: '#123a30' },
      },
      dark: {
        surface: {
          0: '#ffffff',
          50: '#f1f5f2',
          100: '#e8ede8',
          200: '#cdd7d1',
          300: '#b3c0bb',
          400: '#93a39e',
          500: '#7f918c',
          600: '#56676a',
          700: '#3a494c',
          800: '#263235',
          900: '#182124',
          950: '#101618',
        },
        text: { color: '#e8ede8', mutedColor: '#b3c0bb' },
        primary: { color: '#85c9b4', contrastColor: '#0d1f1a', hoverColor: '#a6dccb', activeColor: '#c4ebdf' },
        highlight: { background: '#20352f', focusBackground: '#2a4a40', color: '#a6dccb', focusColor: '#c4ebdf' },
      },
    },
  },
})
