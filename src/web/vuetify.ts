/** Vuetify, dressed in the product's own theme. */
import 'vuetify/styles';
import { createVuetify } from 'vuetify';

export const vuetify = createVuetify({
  theme: {
    defaultTheme: 'paper',
    themes: {
      paper: {
        dark: false,
        colors: {
          background: '#F3EDE2',
          surface: '#FBF8F2',
          primary: '#0F7C7A',
          error: '#B93A20',
          'on-surface': '#1D2433',
        },
      },
      night: {
        dark: true,
        colors: {
          background: '#191D26',
          surface: '#222834',
          primary: '#3CB3AD',
          error: '#EE7B62',
          'on-surface': '#F0EADD',
        },
      },
    },
  },
  defaults: { global: { ripple: false }, VDialog: { maxWidth: 520 } },
});
