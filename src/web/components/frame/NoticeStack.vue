<script setup lang="ts">
/** Short messages, each with at most one thing to do about it. */
import { useNotices, type Notice } from '../../stores/frame/notices.ts';
import { ICONS } from '../../theme/icons.ts';

const store = useNotices();

function act(notice: Notice): void {
  notice.action?.run();
  store.dismiss(notice.id);
}
</script>

<template>
  <div class="stack">
    <v-alert
      v-for="notice in store.notices"
      :key="notice.id"
      class="notice"
      :class="notice.kind"
      :role="notice.kind === 'error' ? 'alert' : 'status'"
      :icon="false"
      density="compact"
      closable
      :close-icon="ICONS.close"
      close-label="Close this message"
      @click:close="store.dismiss(notice.id)"
    >
      <span class="words">{{ notice.text }}</span>
      <v-btn v-if="notice.action" @click="act(notice)">{{ notice.action.label }}</v-btn>
    </v-alert>
  </div>
</template>

<style scoped>
.stack {
  position: fixed;
  left: 198px;
  bottom: 80px;
  display: grid;
  gap: 6px;
  max-width: min(620px, 92vw);
  z-index: 2900;
  /* What lies under the words can still be clicked. */
  pointer-events: none;
}
.notice :deep(.v-btn) {
  pointer-events: auto;
}
.notice.notice {
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--ink);
  border-left: 5px solid var(--sea);
  padding: 5px 8px 5px 12px;
  align-items: center;
}
.notice.error {
  border-left-color: var(--signal);
}
.notice :deep(.v-alert__content) {
  display: flex;
  align-items: center;
  gap: 12px;
}
.notice :deep(.v-alert__close) {
  margin-inline-start: 8px;
}
.words {
  overflow-wrap: anywhere;
}
@media (max-width: 859px) {
  .stack {
    left: 4vw;
    bottom: 70px;
  }
}
</style>
