<script setup lang="ts">
/** What can be done to the chosen strips at once, or to all of them where none is chosen. */
import { defineAsyncComponent } from 'vue';
import IconButton from '../shared/IconButton.vue';

const ChangeList = defineAsyncComponent(() => import('./ChangeList.vue'));
</script>

<template>
  <v-menu max-height="640">
    <template #activator="{ props: menu }">
      <IconButton v-bind="menu" icon="change" words="Change strips" hint="Change the chosen strips, or all" />
    </template>
    <ChangeList />
  </v-menu>
</template>
