<script setup lang="ts">
/** A button that is an icon: what it does stands in its tooltip, with its shortcut, and is read out by a screen reader. */
import { computed } from 'vue';
import { shortcuts, type ActionId } from '../../input/shortcuts.ts';
import { ICONS, type IconName } from '../../theme/icons.ts';

const props = withDefaults(
  defineProps<{
    icon: IconName;
    /** Its name, a few words. */
    words: string;
    /** A sentence more, for the tooltip. */
    hint?: string;
    action?: ActionId;
    /** Of a button that stays down; left out of one that only does something. */
    pressed?: boolean;
  }>(),
  // A boolean that is left out would be false.
  { hint: undefined, action: undefined, pressed: undefined },
);
const shortcut = computed(() => (props.action && shortcuts[props.action]) || undefined);
</script>

<template>
  <v-btn
    :icon="ICONS[icon]"
    :aria-label="words"
    :aria-pressed="pressed"
    :data-tip="hint ?? words"
    :data-key="shortcut"
  />
</template>
