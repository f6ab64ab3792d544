<script setup lang="ts">
/** How far a gate is open in each of its steps. */
import { computed } from 'vue';
import { GATE_STEPS } from '#core/params/effect-rows/gate.ts';
import { EFFECT_ROWS } from '#core/params/effects.ts';
import { fullValues } from '#core/params/row.ts';
import { setValue } from '#core/project/commands/values.ts';
import type { Effect } from '#core/document/schema.ts';
import { useProject } from '../../stores/document/project.ts';
import LevelBars from '../fields/LevelBars.vue';
import { useGesture } from '../fields/use-gesture.ts';

const { effect } = defineProps<{ effect: Effect }>();
const project = useProject();
const { begin, commit, cancel, isLeft } = useGesture('draw steps');
const levels = computed(() => {
  const values = fullValues(EFFECT_ROWS.gate, effect.values) as Record<string, unknown>;
  return Array.from({ length: GATE_STEPS }, (_, place) => values[`step${place + 1}`] as number);
});

function put(place: number, to: number): void {
  if (isLeft()) return;
  const owners = [{ kind: 'effect' as const, id: effect.id }];
  project.run('draw steps', setValue, { owners, param: `step${place + 1}`, change: { to } });
}
</script>

<template>
  <LevelBars
    :levels="levels"
    label="Steps"
    test-id="gate-steps"
    @begin="begin"
    @put="put"
    @commit="commit"
    @cancel="cancel"
  />
</template>
