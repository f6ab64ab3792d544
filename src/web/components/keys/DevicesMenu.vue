<script setup lang="ts">
/** Keyboards: a button that shows whether one is heard; what is plugged in is fetched when it is opened first. */
import { defineAsyncComponent, onMounted } from 'vue';
import { useDevices } from '../../stores/keys/devices.ts';
import { whenQuiet } from '../../when-quiet.ts';
import IconButton from '../shared/IconButton.vue';

const DevicesCard = defineAsyncComponent(() => import('./DevicesCard.vue'));
const devices = useDevices();
onMounted(() => whenQuiet(async () => (await import('../../stores/keys/connecting.ts')).reconnectDevices()));
</script>

<template>
  <v-menu :close-on-content-click="false">
    <template #activator="{ props: menu }">
      <IconButton
        v-bind="menu"
        icon="midi"
        words="keyboards"
        hint="Keyboards, which part each plays, and the letters"
        :pressed="devices.state === 'on'"
        data-testid="devices"
      />
    </template>
    <DevicesCard />
  </v-menu>
</template>
