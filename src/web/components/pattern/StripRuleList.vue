<script setup lang="ts">
/** The rules by which strips are chosen: fetched when the menu is opened first. */
import { STRIP_RULES, type StripRule } from '#core/patterns/strip-selection.ts';
import { useSession } from '../../stores/document/session.ts';
import { useStripEdits } from '../../stores/pattern/strip-edits.ts';

const session = useSession();
const strips = useStripEdits();
const rules = Object.entries(STRIP_RULES) as [StripRule, (typeof STRIP_RULES)[StripRule]][];
</script>

<template>
  <v-list density="compact">
    <v-list-item
      v-for="[rule, { words, needsOne }] in rules"
      :key="rule"
      :title="words"
      :disabled="needsOne && session.eventIds.length === 0"
      @click="strips.select(rule)"
    />
  </v-list>
</template>
