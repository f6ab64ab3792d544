<script setup lang="ts">
/** Asks for a name: another one, or the first. */
import { nextTick, onMounted, ref, useTemplateRef } from 'vue';

const open = defineModel<boolean>({ required: true });
const { name, what, does = 'Rename' } = defineProps<{ name: string; what: string; does?: string }>();
const emit = defineEmits<{ rename: [name: string] }>();
const draft = ref(name);
const field = useTemplateRef<{ $el: HTMLElement }>('field');

onMounted(async () => {
  await nextTick();
  const input = field.value?.$el.querySelector('input');
  input?.focus();
  input?.select();
});

function finish(): void {
  open.value = false;
  if (draft.value.trim()) emit('rename', draft.value);
}
</script>

<template>
  <v-dialog v-model="open" max-width="420" :aria-label="`${does} the ${what}`">
    <v-card>
      <v-card-title>{{ does }} the {{ what }}</v-card-title>
      <v-card-text>
        <v-text-field
          ref="field"
          v-model="draft"
          :aria-label="`Name of the ${what}`"
          maxlength="200"
          @keydown.enter="finish"
        />
      </v-card-text>
      <v-card-actions>
        <v-btn @click="open = false">Cancel</v-btn>
        <v-btn class="strong" :disabled="!draft.trim()" @click="finish">{{ does }}</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>
