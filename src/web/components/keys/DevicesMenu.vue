<script setup lang="ts">
/** Keyboards: a button that shows whether one is heard; what is plugged in is fetched when it is opened first. */
import { defineAsyncComponent } from 'vue';
import { useDevices } from '../../stores/keys/devices.ts';
import IconButton from '../shared/IconButton.vue';

const DevicesCard = defineAsyncComponent(() => import('./DevicesCard.vue'));
const devices = useDevices();
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
