// PrimeVue dressed in the look's tokens. Colours are CSS variables, so light and dark need no second set.
import { definePreset } from '@primeuix/themes'
import Aura from '@primeuix/themes/aura'

const surface = {
  0: 'var(--plate)',
  50: 'var(--paper)',
  100: 'var(--paper)',
  200: 'var(--rule)',
  300: 'var(--rule)',
  400: 'var(--rule-strong)',
  500: 'var(--ink-3)',
  600: 'var(--ink-2)',
  700: 'var(--ink)',
  800: 'var(--ink)',
  900: 'var(--ink)',
  950: 'var(--ink)',
}
const scheme = {
  surface,
  primary: {
    color: 'var(--signal)',
    contrastColor: 'var(--on-signal)',
    hoverColor: 'var(--signal)',
    activeColor: 'var(--signal)',
  },
  highlight: {
    background: 'var(--signal-soft)',
    focusBackground: 'var(--signal-soft)',
    color: 'var(--ink)',
    focusColor: 'var(--ink)',
  },
  formField: {
    background: 'var(--plate)',
    borderColor: 'var(--rule-strong)',
    hoverBorderColor: 'var(--ink-2)',
    focusBorderColor: 'var(--signal)',
    color: 'var(--ink)',
    placeholderColor: 'var(--ink-3)',
    shadow: 'none',
  },
  text: {
    color: 'var(--ink)',
    hoverColor: 'var(--ink)',
    mutedColor: 'var(--ink-2)',
    hoverMutedColor: 'var(--ink-2)',
  },
  content: {
    background: 'var(--plate)',
    hoverBackground: 'var(--paper)',
    borderColor: 'var(--rule)',
    color: 'var(--ink)',
  },
  overlay: {
    select: { background: 'var(--plate)', borderColor: 'var(--rule-strong)', color: 'var(--ink)' },
    popover: { background: 'var(--plate)', borderColor: 'var(--rule-strong)', color: 'var(--ink)' },
    modal: { background: 'var(--plate)', borderColor: 'var(--rule-strong)', color: 'var(--ink)' },
  },
  list: { option: { focusBackground: 'var(--signal-soft)', color: 'var(--ink)', focusColor: 'var(--ink)' } },
}

export const preset = definePreset(Aura, {
  primitive: { borderRadius: { none: '0', xs: '2px', sm: '2px', md: '3px', xl: '3px' } },
  semantic: {
    transitionDuration: '0.1s',
    focusRing: { width: '2px', style: 'solid', color: 'var(--signal)', offset: '2px' },
    formField: { paddingX: '8px', paddingY: '5px', borderRadius: '3px' },
    overlay: {
      modal: { borderRadius: '3px', padding: '16px', shadow: '0 6px 18px #0003' },
      select: { shadow: '0 4px 12px #0002' },
    },
    colorScheme: { light: scheme, dark: scheme },
  },
})
