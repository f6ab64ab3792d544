<script setup lang="ts">
/** A dial of the stand-in: an arc that is dragged up and down, or nudged with the arrow keys. */
import { computed } from 'vue';
import { followPointer } from '../../canvas/use-drag.ts';

const { value, label } = defineProps<{
  /** 0..127 */
  value: number;
  label: string;
  /** What it moves; empty for nothing. */
  words: string;
  /** It was moved to be learned. */
  learned?: boolean;
}>();
const emit = defineEmits<{ turn: [to: number] }>();
const MOST = 127;
/** A whole way of the pointer, in pixels. */
const WAY_PX = 140;
const RADIUS = 27;
const point = (share: number, radius: number) => {
  const angle = Math.PI * (1 - share);
  return `${30 + radius * Math.cos(angle)} ${30 - radius * Math.sin(angle)}`;
};
const share = computed(() => value / MOST);
const filled = computed(() => `M30 30L${point(0, RADIUS)}A${RADIUS} ${RADIUS} 0 0 1 ${point(share.value, RADIUS)}Z`);

function drag(event: PointerEvent): void {
  const from = value;
  const fromY = event.clientY;
  followPointer(event, {
    move: (moved) => emit('turn', from + ((fromY - moved.clientY) / WAY_PX) * MOST),
    end: () => undefined,
    cancel: () => emit('turn', from),
  });
}

const KEY_STEPS: Record<string, number> = {
  ArrowUp: 1,
  ArrowRight: 1,
  ArrowDown: -1,
  ArrowLeft: -1,
  PageUp: 10,
  PageDown: -10,
};
function onKey(event: KeyboardEvent): void {
  const by = KEY_STEPS[event.key];
  if (by === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  emit('turn', value + by);
}
</script>

<template>
  <div
    class="dial"
    :class="{ learned }"
    role="slider"
    tabindex="0"
    :aria-label="label"
    aria-valuemin="0"
    aria-valuemax="127"
    :aria-valuenow="value"
    :data-tip="words ? `${label} moves ${words}` : `${label}: drag it up and down`"
    @pointerdown="drag"
    @keydown="onKey"
    @wheel.prevent="emit('turn', value - Math.sign($event.deltaY) * 2)"
  >
    <svg viewBox="0 0 60 34" aria-hidden="true">
      <path class="way" :d="`M${point(0, RADIUS)}A${RADIUS} ${RADIUS} 0 0 1 ${point(1, RADIUS)}Z`" />
      <path class="filled" :class="{ free: !words }" :d="filled" />
      <line
        class="hand"
        :x1="30"
        :y1="30"
        :x2="point(share, RADIUS).split(' ')[0]"
        :y2="point(share, RADIUS).split(' ')[1]"
      />
    </svg>
    <div class="mono">{{ value }}</div>
    <div class="words one-line" :class="{ quiet: !words }">{{ words || 'free' }}</div>
  </div>
</template>

<style scoped>
.dial {
  display: grid;
  grid-template: 18px 18px / 58px minmax(0, 1fr);
  column-gap: 6px;
  align-items: center;
  cursor: ns-resize;
  touch-action: none;
  padding: 2px 4px;
  min-width: 0;
}
.dial.learned {
  background: var(--sea-wash);
  outline: 2px solid var(--sea);
}
svg {
  grid-row: 1 / 3;
  width: 58px;
  height: 33px;
}
.way {
  fill: var(--rule);
}
.filled {
  fill: var(--sea);
  opacity: 0.55;
}
.filled.free {
  fill: var(--ink-quiet);
}
.hand {
  stroke: var(--ink);
  stroke-width: 4;
}
.mono {
  font-size: 13px;
}
.words {
  font-size: 13px;
  font-weight: 600;
}
.words.quiet {
  font-weight: 400;
}
</style>
