<script setup lang="ts">
/** What the hand on the table is, and what can be made of it. */
import { defineAsyncComponent } from 'vue';
import IconButton from '../shared/IconButton.vue';

const HandCard = defineAsyncComponent(() => import('./HandCard.vue'));
</script>

<template>
  <v-menu :close-on-content-click="false" location="top">
    <template #activator="{ props: menu }">
      <IconButton v-bind="menu" icon="more" words="this hand" hint="Name, seed and rules of this hand; breed it" />
    </template>
    <HandCard />
  </v-menu>
</template>
