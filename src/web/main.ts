import '@fontsource-variable/bricolage-grotesque';
import '@fontsource/ibm-plex-mono/latin-400.css';
import '@fontsource/ibm-plex-mono/latin-500.css';
import './theme/theme.css';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import App from './App.vue';
import { engine } from './audio/services.ts';
import { router } from './router.ts';
import { keepApplication } from './service/register.ts';
import { applyTheme, themeName } from './theme/theme.ts';
import { vuetify } from './theme/vuetify.ts';
import { callsOnTheWay } from './workers/calls.ts';

applyTheme(themeName.value);
createApp(App).use(createPinia()).use(router).use(vuetify).mount('#app');
keepApplication();

// For the browser tests: what the engine plays can be recorded, and they wait until nothing is on its way.
Object.assign(window, { yappa: { engine, callsOnTheWay } });
