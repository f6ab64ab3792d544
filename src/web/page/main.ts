/** Where the page that plays begins: built by itself into one script, which Take away puts into the file. */
import '../theme/theme.css';
import { createApp } from 'vue';
import { vuetify } from '../theme/vuetify.ts';
import { readHeld } from './held.ts';
import PlayerPage from './PlayerPage.vue';

void readHeld().then((held) => createApp(PlayerPage, { held }).use(vuetify).mount('#app'));
