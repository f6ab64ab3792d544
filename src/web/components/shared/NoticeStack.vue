<script setup lang="ts">
import SkylineMini from './SkylineMini.vue';
import { useImports } from '../../stores/imports.ts';
import { useNotices, type Notice } from '../../stores/notices.ts';

const store = useNotices();
const imports = useImports();

function act(notice: Notice): void {
  notice.action?.run();
  store.dismiss(notice.id);
}
</script>

<template>
  <div class="stack">
    <div v-for="running in imports.running" :key="running.id" class="notice" role="status">
      <span>
        Importing {{ running.name }} … {{ Math.round(running.share * 100) }}%
        <small v-if="running.early" class="mono quiet">
          {{ Math.floor(running.early.totalSeconds / 60) }} min {{ Math.round(running.early.totalSeconds % 60) }} s ·
          {{ running.early.hits }} hits in the first {{ running.early.readSeconds }} s
        </small>
      </span>
      <SkylineMini v-if="running.early" class="early" :levels="running.early.skyline" />
      <button class="push small" @click="running.cancel()">Cancel</button>
    </div>
    <div
      v-for="notice in store.notices"
      :key="notice.id"
      class="notice"
      :class="notice.kind"
      :role="notice.kind === 'error' ? 'alert' : 'status'"
    >
      <span>{{ notice.text }}</span>
      <button v-if="notice.action" class="push small" @click="act(notice)">{{ notice.action.label }}</button>
      <button
        class="close"
        aria-label="Close this message"
        title="Close this message"
        @click="store.dismiss(notice.id)"
      >
        ×
      </button>
    </div>
  </div>
</template>

<style scoped>
.stack {
  position: fixed;
  left: 50%;
  top: 10px;
  transform: translateX(-50%);
  display: grid;
  gap: 6px;
  max-width: min(680px, 92vw);
  z-index: 2900;
}
.notice {
  display: flex;
  align-items: center;
  gap: 12px;
  background: var(--sheet);
  border: 1px solid var(--ink);
  border-left: 5px solid var(--sea);
  border-radius: 3px;
  padding: 8px 12px;
}
.notice.error {
  border-left-color: var(--signal);
}
.notice span {
  overflow-wrap: anywhere;
}
.early {
  width: 160px;
  height: 30px;
  flex: none;
}
small {
  display: block;
  font-size: 13px;
}
.close {
  font-size: 18px;
  line-height: 1;
  margin-left: auto;
}
</style>
