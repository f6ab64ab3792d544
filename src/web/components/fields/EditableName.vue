<script setup lang="ts">
/** A name that opens what it names (where that opens), and can be changed in place. */
import { nextTick, ref } from 'vue';

const props = withDefaults(defineProps<{ name: string; what: string; opens?: boolean }>(), { opens: true });
const emit = defineEmits<{ rename: [name: string]; open: [] }>();
const editing = ref(false);
const draft = ref('');
const input = ref<HTMLInputElement | null>(null);

async function edit(): Promise<void> {
  draft.value = props.name;
  editing.value = true;
  await nextTick();
  input.value?.select();
}

function finish(keep: boolean): void {
  if (!editing.value) return;
  editing.value = false;
  if (keep) emit('rename', draft.value);
}
</script>

<template>
  <span class="editable">
    <input
      v-if="editing"
      ref="input"
      v-model="draft"
      class="plain-input"
      :aria-label="`Name of the ${what}`"
      maxlength="200"
      @blur="finish(true)"
      @keydown.enter="finish(true)"
      @keydown.esc="finish(false)"
    />
    <template v-else>
      <button class="name" :title="name" @click="opens ? emit('open') : edit()">{{ name }}</button>
      <button class="rename quiet" :aria-label="`Rename ${name}`" title="Rename" @click="edit">rename</button>
    </template>
  </span>
</template>

<style scoped>
.editable {
  display: flex;
  gap: 10px;
  min-width: 0;
  align-items: baseline;
}
.name {
  font-weight: 620;
  font-size: 15px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  text-align: left;
}
.rename {
  font-size: 13px;
  opacity: 0;
  text-decoration: underline;
}
.rename:focus-visible,
li:hover .rename {
  opacity: 1;
}
.plain-input {
  flex: 1;
  font-size: 15px;
}
@media (hover: none) {
  .rename {
    opacity: 1;
  }
}
</style>
