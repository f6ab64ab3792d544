<script setup lang="ts">
/** A dialog that does some work: its settings, its progress, and the way out of both. */
const open = defineModel<boolean>({ required: true });
defineProps<{
  title: string;
  /** 0..1 while it works, null otherwise; work can be given up. */
  share: number | null;
  maxWidth?: number;
}>();
const emit = defineEmits<{ cancel: [] }>();

function close(): void {
  emit('cancel');
  open.value = false;
}
</script>

<template>
  <v-dialog v-model="open" :persistent="share !== null" :max-width="maxWidth ?? 460" :aria-label="title">
    <div class="dialog sheet" @keydown.stop>
      <h2>{{ title }}</h2>
      <slot />
      <div
        v-if="share !== null"
        class="progress"
        role="progressbar"
        :aria-label="title"
        :aria-valuenow="Math.round(share * 100)"
      >
        <span :style="{ width: `${share * 100}%` }" />
      </div>
      <div class="actions">
        <button class="push" @click="close">{{ share === null ? 'Close' : 'Cancel' }}</button>
        <slot name="actions" />
      </div>
    </div>
  </v-dialog>
</template>

<style scoped>
.dialog {
  padding: 18px 20px;
  display: grid;
  gap: 12px;
  color: var(--ink);
}
.dialog :deep(.line) {
  display: flex;
  gap: 10px;
  align-items: center;
}
.progress {
  height: 8px;
  background: var(--rule);
}
.progress span {
  display: block;
  height: 100%;
  background: var(--sea);
}
.actions {
  display: flex;
  justify-content: flex-end;
  gap: 10px;
}
</style>
