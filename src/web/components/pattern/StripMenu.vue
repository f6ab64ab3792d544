<script setup lang="ts">
/** Chooses many strips at once, by a rule. */
import { defineAsyncComponent } from 'vue';
import IconButton from '../shared/IconButton.vue';

const StripRuleList = defineAsyncComponent(() => import('./StripRuleList.vue'));
</script>

<template>
  <v-menu>
    <template #activator="{ props: menu }">
      <IconButton v-bind="menu" icon="selectStrips" words="Choose strips" hint="Choose many strips at once" />
    </template>
    <StripRuleList />
  </v-menu>
</template>
