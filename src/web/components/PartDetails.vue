<script setup lang="ts">
/** The part: how its loop is read, and how it sounds. */
import { computed } from 'vue';
import { setLoop, setPart, type PartSettings } from '#core/project/commands/parts.ts';
import { setTempo } from '#core/project/commands/song.ts';
import { loopLengthFrames, loopTempoBpm } from '#core/units/time.ts';
import { useProject } from '../stores/project.ts';
import { useSession } from '../stores/session.ts';
import DetailRows from './DetailRows.vue';
import NumberField from './NumberField.vue';

const project = useProject();
const session = useSession();

const part = computed(() => session.part!);
const source = computed(() => project.document!.sources[part.value.sourceId]!);
const loop = computed(() => part.value.loop);
const loopFrames = computed(() => loop.value.endFrame - loop.value.startFrame);
const tempo = computed(() =>
  loopTempoBpm(loop.value.bars, loop.value.beatsPerBar, loopFrames.value, source.value.sampleRate),
);

/** Other readings: those the analysis named, and half and double. */
const readings = computed(() => {
  const own = part.value.tempoReadings.map(({ bars, beatsPerBar }) => ({ bars, beatsPerBar }));
  const { bars, beatsPerBar } = loop.value;
  const more = [{ bars: bars * 2, beatsPerBar }, ...(bars % 2 === 0 ? [{ bars: bars / 2, beatsPerBar }] : [])];
  const seen = new Set<string>();
  return [{ bars, beatsPerBar }, ...own, ...more]
    .filter((reading) => {
      const name = `${reading.bars}/${reading.beatsPerBar}`;
      return !seen.has(name) && seen.add(name);
    })
    .slice(0, 6)
    .map((reading) => ({
      ...reading,
      bpm: loopTempoBpm(reading.bars, reading.beatsPerBar, loopFrames.value, source.value.sampleRate),
    }));
});

const offBy = computed(() => {
  const rounded = Math.round(tempo.value);
  const wanted = loopLengthFrames(loop.value.bars, loop.value.beatsPerBar, rounded, source.value.sampleRate);
  return { rounded, frames: Math.round(loopFrames.value - wanted) };
});

function put(label: string, settings: PartSettings): void {
  project.run(label, setPart, { partId: part.value.id, settings });
}

function rename(event: Event): void {
  put('rename part', { name: (event.target as HTMLInputElement).value.trim() });
}
</script>

<template>
  <DetailRows title="Part">
    <label class="row">
      <span>name</span>
      <input class="plain-input" :value="part.name" maxlength="200" @change="rename" @keydown.stop />
    </label>
    <NumberField
      label="level"
      :model-value="part.gainDb"
      :min="-60"
      :max="12"
      :step="0.5"
      :digits="1"
      :reset="0"
      unit="dB"
      @begin="project.begin('level')"
      @update:model-value="put('level', { gainDb: $event })"
      @commit="project.commit()"
      @cancel="project.cancel()"
    />
    <NumberField
      label="pan"
      :model-value="part.pan * 100"
      :min="-100"
      :max="100"
      :step="5"
      :reset="0"
      unit="%"
      @begin="project.begin('pan')"
      @update:model-value="put('pan', { pan: $event / 100 })"
      @commit="project.commit()"
      @cancel="project.cancel()"
    />
    <NumberField
      label="stop fade"
      hint="How long a slice that is cut off fades: 1 to 50 ms"
      :model-value="part.stopFadeMs"
      :min="1"
      :max="50"
      :step="1"
      :reset="3"
      :digits="1"
      unit="ms"
      @begin="project.begin('stop fade')"
      @update:model-value="put('stop fade', { stopFadeMs: $event })"
      @commit="project.commit()"
      @cancel="project.cancel()"
    />
  </DetailRows>
  <DetailRows title="Loop">
    <NumberField
      label="bars"
      :model-value="loop.bars"
      :min="1"
      :max="512"
      @begin="project.begin('bars')"
      @update:model-value="project.run('bars', setLoop, { partId: part.id, loop: { bars: $event } })"
      @commit="project.commit()"
      @cancel="project.cancel()"
    />
    <NumberField
      label="beats a bar"
      :model-value="loop.beatsPerBar"
      :min="1"
      :max="16"
      @begin="project.begin('beats a bar')"
      @update:model-value="project.run('beats a bar', setLoop, { partId: part.id, loop: { beatsPerBar: $event } })"
      @commit="project.commit()"
      @cancel="project.cancel()"
    />
    <div class="row">
      <span>its tempo</span><span class="mono" data-testid="loop-tempo">{{ tempo.toFixed(2) }} bpm</span>
    </div>
    <div class="row">
      <span>length</span><span class="mono">{{ loopFrames.toLocaleString('en') }} frames</span>
    </div>
    <p class="quiet off">
      {{
        offBy.frames === 0
          ? `exactly ${offBy.rounded} bpm`
          : `${Math.abs(offBy.frames)} frames too ${offBy.frames > 0 ? 'long' : 'short'} for ${offBy.rounded} bpm`
      }}
    </p>
    <div class="buttons">
      <button
        v-for="reading in readings"
        :key="`${reading.bars}/${reading.beatsPerBar}`"
        class="push small"
        :aria-pressed="reading.bars === loop.bars && reading.beatsPerBar === loop.beatsPerBar"
        title="Read the loop this way"
        @click="
          project.run('read the loop', setLoop, {
            partId: part.id,
            loop: { bars: reading.bars, beatsPerBar: reading.beatsPerBar },
          })
        "
      >
        {{ reading.bars }} × {{ reading.beatsPerBar }}/4 · {{ reading.bpm.toFixed(1) }}
      </button>
    </div>
    <div class="buttons">
      <button
        class="push small"
        :disabled="tempo < 20 || tempo > 400"
        title="The song takes this loop's tempo"
        @click="project.run('tempo of the loop', setTempo, { tempoBpm: Math.round(tempo * 1000) / 1000 })"
      >
        use its tempo for the song
      </button>
    </div>
  </DetailRows>
</template>

<style scoped>
.plain-input {
  width: 100%;
}
.off {
  font-size: 13px;
  padding-top: 4px;
}
</style>
