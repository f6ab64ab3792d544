/** Vuetify, dressed once: colours, density and shape of every component are set here and in theme.css, not per place. */
import 'vuetify/styles/core';
import { createVuetify } from 'vuetify';
import { mdi } from 'vuetify/iconsets/mdi-svg';
import {
  mdiAlert,
  mdiAlertCircle,
  mdiCheck,
  mdiCheckCircle,
  mdiInformation,
  mdiCheckboxBlankOutline,
  mdiCheckboxMarked,
  mdiChevronDown,
  mdiChevronLeft,
  mdiChevronRight,
  mdiChevronUp,
  mdiArrowDown,
  mdiArrowUp,
  mdiClose,
  mdiCloseCircle,
  mdiMenuDown,
  mdiMinusBox,
  mdiRadioboxBlank,
  mdiRadioboxMarked,
} from '@mdi/js';

/** Icons that the toolkit's components ask for by these names: those that are in use here. */
const path = (svg: string) => `svg:${svg}` as const;
const aliases = {
  complete: path(mdiCheck),
  success: path(mdiCheckCircle),
  info: path(mdiInformation),
  warning: path(mdiAlert),
  error: path(mdiAlertCircle),
  checkboxOn: path(mdiCheckboxMarked),
  checkboxOff: path(mdiCheckboxBlankOutline),
  checkboxIndeterminate: path(mdiMinusBox),
  radioOn: path(mdiRadioboxMarked),
  radioOff: path(mdiRadioboxBlank),
  clear: path(mdiCloseCircle),
  close: path(mdiClose),
  delete: path(mdiCloseCircle),
  dropdown: path(mdiMenuDown),
  expand: path(mdiChevronDown),
  collapse: path(mdiChevronUp),
  next: path(mdiChevronRight),
  prev: path(mdiChevronLeft),
  sortAsc: path(mdiArrowUp),
  sortDesc: path(mdiArrowDown),
};

const field = { variant: 'outlined', density: 'compact', hideDetails: true } as const;

export const vuetify = createVuetify({
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  theme: {
    defaultTheme: 'paper',
    themes: {
      paper: {
        dark: false,
        colors: {
          background: '#F3EDE2',
          surface: '#FBF8F2',
          'surface-bright': '#FBF8F2',
          'surface-light': '#F3EDE2',
          'surface-variant': '#1D2433',
          'on-surface-variant': '#FBF8F2',
          primary: '#0F7C7A',
          'on-primary': '#FBF8F2',
          error: '#B93A20',
          'on-surface': '#1D2433',
          'on-background': '#1D2433',
        },
        variables: { 'border-color': '#1D2433', 'border-opacity': 0.18 },
      },
      night: {
        dark: true,
        colors: {
          background: '#191D26',
          surface: '#222834',
          'surface-bright': '#F0EADD',
          'surface-light': '#191D26',
          'surface-variant': '#F0EADD',
          'on-surface-variant': '#191D26',
          primary: '#3CB3AD',
          'on-primary': '#11151D',
          error: '#EE7B62',
          'on-surface': '#F0EADD',
          'on-background': '#F0EADD',
        },
        variables: { 'border-color': '#F0EADD', 'border-opacity': 0.2 },
      },
    },
  },
  defaults: {
    global: { ripple: false },
    VBtn: { variant: 'outlined', size: 'small' },
    VBtnToggle: { density: 'compact', variant: 'outlined', color: 'primary', mandatory: true },
    VCard: { elevation: 0 },
    VCheckbox: { density: 'compact', hideDetails: true, color: 'primary' },
    VChip: { size: 'small', variant: 'tonal', label: false },
    VDataTableVirtual: { density: 'compact' },
    VDialog: { maxWidth: 520, transition: false },
    VExpansionPanels: { elevation: 0, multiple: true, variant: 'accordion', static: true },
    VExpansionPanel: { elevation: 0 },
    VList: { density: 'compact', bgColor: 'transparent' },
    VMenu: { transition: false, offset: 4 },
    VProgressLinear: { color: 'primary', height: 4 },
    VSelect: { ...field, menuProps: { contentClass: 'menu-of-choices' } },
    VSlider: { density: 'compact', hideDetails: true, color: 'primary', thumbSize: 14, trackSize: 3 },
    VSwitch: { density: 'compact', hideDetails: true, color: 'primary' },
    VTabs: { density: 'compact', color: 'primary', height: 30 },
    VTab: { variant: 'text' },
    VTextField: field,
  },
});
