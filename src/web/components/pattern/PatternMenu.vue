<script setup lang="ts">
/** The pattern itself: its colour, and the keys that put patterns on. */
import { defineAsyncComponent } from 'vue';
import IconButton from '../shared/IconButton.vue';

const PatternCard = defineAsyncComponent(() => import('./PatternCard.vue'));
</script>

<template>
  <v-menu :close-on-content-click="false">
    <template #activator="{ props: menu }">
      <IconButton
        v-bind="menu"
        icon="label"
        words="colour and keys"
        hint="The colour of this pattern; keys that put patterns on, let the part rest, deal"
      />
    </template>
    <PatternCard />
  </v-menu>
</template>
