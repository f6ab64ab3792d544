<script setup lang="ts">
/** Chooses many strips at once, by a rule. */
import { STRIP_RULES, type StripRule } from '#core/patterns/strip-selection.ts';
import { useSession } from '../../stores/session.ts';
import { useStripEdits } from '../../stores/strip-edits.ts';
import IconButton from '../shared/IconButton.vue';

const session = useSession();
const strips = useStripEdits();
const rules = Object.entries(STRIP_RULES) as [StripRule, (typeof STRIP_RULES)[StripRule]][];
</script>

<template>
  <v-menu>
    <template #activator="{ props: menu }">
      <IconButton v-bind="menu" icon="selectStrips" words="Choose strips" hint="Choose many strips at once" />
    </template>
    <v-list density="compact">
      <v-list-item
        v-for="[rule, { words, needsOne }] in rules"
        :key="rule"
        :title="words"
        :disabled="needsOne && session.eventIds.length === 0"
        @click="strips.select(rule)"
      />
    </v-list>
  </v-menu>
</template>
