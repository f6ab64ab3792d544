<script setup lang="ts">
/**
 * A name that can be changed in place: a double click, or F2 on it, turns it into a field. Where one click does something
 * else (opens, chooses) the slot shows that; `edit` begins from outside.
 */
import { nextTick, ref, useTemplateRef } from 'vue';

const props = defineProps<{
  name: string;
  /** What it names, for a screen reader. */
  what: string;
  /** A name that stays as it was proposed counts, too. */
  always?: boolean;
}>();
const emit = defineEmits<{ rename: [name: string] }>();
const editing = ref(false);
const draft = ref('');
const field = useTemplateRef<{ $el: HTMLElement }>('field');

async function edit(): Promise<void> {
  draft.value = props.name;
  editing.value = true;
  await nextTick();
  const input = field.value?.$el.querySelector('input');
  input?.focus();
  input?.select();
}

function finish(keep: boolean): void {
  if (!editing.value) return;
  editing.value = false;
  const name = draft.value.trim();
  if (keep && name && (props.always || name !== props.name)) emit('rename', name);
}

defineExpose({ edit });
</script>

<template>
  <v-text-field
    v-if="editing"
    ref="field"
    v-model="draft"
    class="name-field"
    :aria-label="`Name of the ${what}`"
    maxlength="200"
    @blur="finish(true)"
    @keydown.enter.stop="finish(true)"
    @keydown.esc.stop="finish(false)"
    @keydown.stop
    @click.stop
    @dblclick.stop
  />
  <span v-else class="one-line shown" @dblclick.stop="edit" @keydown.f2.stop.prevent="edit"
    ><slot>{{ name }}</slot></span
  >
</template>

<style scoped>
.name-field {
  flex: 1;
  min-width: 80px;
}
.shown {
  display: block;
}
</style>
