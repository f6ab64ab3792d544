<script setup lang="ts">
/** Play, stop, loop, tempo, click, undo, and how loud it is. */
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { setValue, type Owner, type Value } from '#core/project/commands/values.ts';
import { songValues } from '#core/queries/values.ts';
import { countedBeatTicks, formatBarsBeats, MAX_TEMPO_BPM, MIN_TEMPO_BPM } from '#core/units/time.ts';
import { engine } from '../../audio/services.ts';
import { tip } from '../../input/shortcuts.ts';
import { TapTempo } from '../../input/tap-tempo.ts';
import { useProject } from '../../stores/project.ts';
import { usePlanSender } from '../../stores/plan-sender.ts';
import { useTransport } from '../../stores/transport.ts';
import { applyTheme, themeName } from '../../theme/theme.ts';
import ParamField from '../fields/ParamField.vue';
import MetreField from '../fields/MetreField.vue';

const emit = defineEmits<{ help: [] }>();
const project = useProject();
const transport = useTransport();
const planSender = usePlanSender();
const owners: Owner[] = [{ kind: 'song' }];
const song = computed(() => songValues(project.document!));
const position = ref<HTMLElement | null>(null);
const meters = ref<HTMLElement[]>([]);
const tapper = new TapTempo();

/** Meters span this many dB below full scale. */
const METER_RANGE_DB = 48;
const FALL_DB_A_FRAME = 0.7;
const shown = [-METER_RANGE_DB, -METER_RANGE_DB];
let frame = 0;

/** The playhead and the meters move outside Vue: they change with every frame of the screen. */
function tick(): void {
  frame = requestAnimationFrame(tick);
  const { document } = project;
  if (!document) return;
  const ticks = engine.positionTicksNow(song.value.tempoBpm);
  // Before the first bar line it is counted in: -4, -3, -2, -1.
  const text =
    ticks < 0
      ? `−${Math.ceil(-ticks / countedBeatTicks(song.value.beatsPerBar))}`
      : formatBarsBeats(ticks, song.value.beatsPerBar);
  if (position.value && position.value.textContent !== text) position.value.textContent = text;
  meters.value.forEach((bar, side) => {
    const level = 20 * Math.log10(Math.max(1e-6, engine.status.peaks[side]!));
    shown[side] = Math.max(level, shown[side]! - FALL_DB_A_FRAME, -METER_RANGE_DB);
    bar.style.transform = `scaleX(${Math.min(1, 1 + shown[side]! / METER_RANGE_DB).toFixed(3)})`;
    bar.classList.toggle('over', engine.status.peaks[side]! >= 1);
  });
}
onMounted(tick);
onBeforeUnmount(() => cancelAnimationFrame(frame));

function tap(): void {
  const tempoBpm = tapper.tap(performance.now());
  if (tempoBpm !== null) put('tap tempo', 'tempoBpm', Math.max(MIN_TEMPO_BPM, Math.min(MAX_TEMPO_BPM, tempoBpm)));
}

function put(label: string, param: string, to: Value): void {
  project.run(label, setValue, { owners, param, change: { to } });
}

function toggleClick(): void {
  put('click', 'clickOn', !song.value.clickOn);
}

defineExpose({ tap, toggleClick });
</script>

<template>
  <footer class="transport" aria-label="Transport">
    <button
      class="play"
      :aria-pressed="transport.playing"
      :aria-label="transport.playing ? 'Stop' : 'Play'"
      :title="tip('play')"
      data-testid="play"
      @click="transport.toggle()"
    >
      <svg viewBox="0 0 24 24" aria-hidden="true">
        <path :d="transport.playing ? 'M6 6h12v12H6z' : 'M7 4l13 8-13 8z'" fill="currentColor" />
      </svg>
    </button>
    <button
      class="push foot"
      :aria-pressed="transport.looping"
      title="Go round and round, or end after this round"
      @click="transport.setLooping(!transport.looping)"
    >
      loop
    </button>
    <div ref="position" class="position mono" data-testid="position">1.1.000</div>
    <div class="field">
      <span class="quiet">tempo</span>
      <ParamField :owners="owners" param="tempoBpm" :show-label="false" test-id="tempo" />
    </div>
    <button class="push foot" :title="tip('tap')" @click="tap">tap</button>
    <div class="field narrow wide">
      <span class="quiet">metre</span>
      <MetreField :model-value="song.beatsPerBar" @put="put('metre', 'beatsPerBar', $event)" />
    </div>
    <div class="field narrow">
      <button class="push foot" :aria-pressed="song.clickOn" :title="tip('click')" @click="toggleClick">click</button>
    </div>
    <div class="steps">
      <button
        class="step"
        :disabled="!project.undoLabel"
        :title="tip('undo')"
        data-testid="undo"
        @click="project.undo()"
      >
        <span class="quiet">undo</span><span class="what">{{ project.undoLabel ?? 'nothing yet' }}</span>
      </button>
      <button
        class="step"
        :disabled="!project.redoLabel"
        :title="tip('redo')"
        data-testid="redo"
        @click="project.redo()"
      >
        <span class="quiet">redo</span><span class="what">{{ project.redoLabel ?? '—' }}</span>
      </button>
    </div>
    <span v-if="planSender.rendering > 0" class="quiet making" role="status" data-testid="rendering">
      stretching {{ planSender.rendering }} …
    </span>
    <div class="meters" aria-hidden="true">
      <div v-for="side in 2" :key="side" class="meter"><span ref="meters" /></div>
    </div>
    <button
      class="push foot"
      title="Paper by day, dark by night"
      @click="applyTheme(themeName === 'dark' ? 'light' : 'dark')"
    >
      {{ themeName === 'dark' ? 'day' : 'night' }}
    </button>
    <button class="push foot" :title="tip('help')" aria-label="All shortcuts" @click="emit('help')">?</button>
  </footer>
</template>

<style scoped>
.transport {
  --field-quiet: var(--foot-quiet);
  --field-rule: var(--foot-rule);
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 0 16px;
  background: var(--foot);
  color: var(--foot-ink);
  min-width: 0;
}
.transport .quiet {
  color: var(--foot-quiet);
  font-size: 13px;
}
.play {
  width: 54px;
  height: 42px;
  background: var(--signal);
  color: #fff;
  border-radius: 3px;
  display: grid;
  place-items: center;
  flex: none;
}
.play svg {
  width: 24px;
}
.position {
  font-size: 25px;
  width: 128px;
  flex: none;
}
.field {
  display: grid;
  width: 106px;
  flex: none;
}
.field.narrow {
  width: 74px;
}
.field select {
  background: var(--foot);
  border-color: var(--foot-rule);
  color: inherit;
  width: 100%;
}
.making {
  white-space: nowrap;
}
.push.foot {
  border-color: var(--foot-rule);
  color: inherit;
  padding: 4px 10px;
  flex: none;
}
.push.foot[aria-pressed='true'] {
  background: var(--foot-ink);
  color: var(--foot);
}
.steps {
  display: flex;
  gap: 14px;
  flex: 1;
  min-width: 0;
}
.step {
  display: grid;
  text-align: left;
  min-width: 0;
  max-width: 150px;
  font-size: 13px;
}
.what {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.meters {
  width: 120px;
  display: grid;
  gap: 3px;
  flex: none;
}
.meter {
  height: 8px;
  background: var(--foot-rule);
}
.meter span {
  display: block;
  height: 100%;
  background: #8da63a;
  transform-origin: left;
  transform: scaleX(0);
}
.meter span.over {
  background: var(--signal);
}
/* What is least needed goes first: the meters, what is being made and what the next undo is called, then metre, click and undo themselves. */
@media (max-width: 1100px) {
  .meters {
    display: none;
  }
}
@media (max-width: 960px) {
  .making,
  .what {
    display: none;
  }
}
@media (max-width: 870px) {
  .field.wide {
    display: none;
  }
}
@media (max-width: 760px) {
  .field.narrow {
    display: none;
  }
}
</style>
