<script setup lang="ts">
/** What is in a slice: its layers and the ring of the hit before, apart from each other; and what becomes of them. */
import { useElementSize } from '@vueuse/core';
import { computed, onBeforeUnmount, useTemplateRef } from 'vue';
import type { Role } from '#core/analysis/role-names.ts';
import { levelsOf } from '#core/unmix/results.ts';
import { frameToX, wholeWindow } from '../../canvas/view-window.ts';
import { useShelf } from '../../stores/shelf/shelf.ts';
import { useApart } from '../../stores/source/apart.ts';
import { useSession } from '../../stores/document/session.ts';
import { ICONS } from '../../theme/icons.ts';
import type { GuideAsked } from '../../workers/analysis-protocol.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import HearButton from '../shared/HearButton.vue';
import IconButton from '../shared/IconButton.vue';
import ApartPicture from './ApartPicture.vue';
import LayerRow from './LayerRow.vue';
import RingRow from './RingRow.vue';
import { layerColour } from './layer-looks.ts';

const apart = useApart();
const session = useSession();
const shelf = useShelf();
const MOST_OF_SHELF = 12;
const seconds = computed(() =>
  apart.at ? (apart.at.endFrame - apart.at.startFrame) / (session.source?.sampleRate ?? 44_100) : 1,
);
const places = [
  { value: 'new', words: 'as new slices' },
  { value: 'in-place', words: 'in place' },
];
const title = computed(() => (apart.at ? `What is in slice ${apart.at.index + 1}` : ''));
const words = computed(() => apart.layers.map(({ role }) => role).join(' and '));
const others = computed(() => apart.targets.length - 1);
const wanted = computed(() => apart.layers.filter(({ isWanted }) => isWanted).length);
/** In place something has to be different; as new sounds something has to be there. */
const canKeep = computed(() => {
  if (apart.problem || !apart.result) return false;
  if (!apart.inPlace) return wanted.value > 0;
  return apart.hasRing || apart.layers.some(({ isWanted, gainDb }) => !isWanted || gainDb !== 0);
});
const leftDb = computed(() => {
  const { rmsDb } = levelsOf(apart.result?.left ?? []);
  return rmsDb > -120 ? `${rmsDb.toFixed(1)} dB` : 'nothing';
});

/** From where a guide lies in the source, round the side, to the layer that is known from it. */
const sheet = useTemplateRef<HTMLElement>('sheet');
const rows = useTemplateRef<HTMLElement>('rows');
const { width } = useElementSize(sheet);
const { height: rowsHeight } = useElementSize(rows);
const threads = computed(() => {
  const window = session.sourceWindow ?? wholeWindow(session.source?.frames ?? 1);
  const wide = width.value;
  // Its place follows from how tall the rows are, which is watched.
  if (!apart.result || !rows.value || rowsHeight.value === 0) return [];
  const boxes = [...rows.value.querySelectorAll<HTMLElement>('.layer')];
  return apart.result.used.flatMap((place, layer) => {
    const guide = place === null ? undefined : session.placed[place];
    const box = boxes[layer];
    if (!guide || !box) return [];
    const x = frameToX(window, (guide.startFrame + guide.endFrame) / 2, wide);
    if (x < 0 || x > wide) return [];
    const [lane, side] = [4 + 5 * layer, wide + 3 + 3 * layer];
    const y = rows.value!.offsetTop + box.offsetTop + box.offsetHeight / 2;
    const path = `M${x} 0V${lane}H${side}V${y}H${wide}`;
    return [{ layer, path, colour: layerColour(isUpper(layer)) }];
  });
});
const isUpper = (place: number) => apart.result?.picture.upperPlace === place;

function sliceWords(place: number, likeness?: number): string {
  const label = session.placed[place]?.label ?? '';
  return `slice ${place + 1}, ${label}${likeness === undefined ? '' : `, ${Math.round(100 * likeness)}% alike`}`;
}

function guidesOf(place: number): { value: string; words: string }[] {
  const { role } = apart.layers[place]!;
  const ranks = apart.result?.guides[place] ?? [];
  const used = apart.result?.used[place];
  const found = used === null || used === undefined ? `what a ${role} is like` : `slice ${used + 1}`;
  const sounds = shelf.sources.filter(({ facts }) => facts.heard?.role === role).slice(0, MOST_OF_SHELF);
  return [
    { value: 'found', words: `found: ${found}` },
    { value: 'role', words: `what a ${role} is like` },
    ...ranks.map(({ place: at, likeness }) => ({ value: `slice:${at}`, words: sliceWords(at, likeness) })),
    ...sounds.map(({ id, name }) => ({ value: `sound:${id}`, words: `the shelf: ${name}` })),
  ];
}

function guideText(guide: GuideAsked): string {
  if (guide.kind === 'slice') return `slice:${guide.place}`;
  return guide.kind === 'sound' ? `sound:${guide.sourceId}` : guide.kind;
}

function setGuide(place: number, text: string): void {
  const [kind, rest] = [text.split(':')[0], text.slice(text.indexOf(':') + 1)];
  const guide: GuideAsked =
    kind === 'slice'
      ? { kind: 'slice', place: Number(rest) }
      : kind === 'sound'
        ? { kind: 'sound', sourceId: rest }
        : { kind: kind === 'role' ? 'role' : 'found' };
  apart.setLayer(place, { guide });
}

function setRole(place: number, role: Role | 'none'): void {
  const roles = apart.layers.map((layer) => layer.role);
  apart.setRoles(role === 'none' ? roles.slice(0, 1) : roles.map((one, i) => (i === place ? role : one)));
}

if (shelf.sources.length === 0) void shelf.refreshSourcesSoon().catch(() => undefined);
onBeforeUnmount(() => apart.stop());
</script>

<template>
  <section v-if="apart.at" ref="sheet" class="apart" data-testid="apart">
    <svg class="thread" aria-hidden="true" data-testid="guide-threads">
      <path v-for="thread in threads" :key="thread.layer" :d="thread.path" :stroke="thread.colour" />
    </svg>
    <header>
      <h3>{{ title }}</h3>
      <span class="quiet small one-line">{{ words }}</span>
      <v-progress-circular v-if="apart.isBusy" indeterminate size="16" width="2" aria-label="Taking it apart" />
      <IconButton class="close" icon="close" words="close" @click="apart.close()" />
    </header>
    <p v-if="apart.problem" class="problem" role="alert">{{ apart.problem }}</p>
    <template v-else-if="apart.result">
      <div class="body">
        <ApartPicture
          :picture="apart.result.picture"
          :pulls="apart.pulls"
          :seconds="seconds"
          @pull="apart.pulls = $event"
        />
        <div ref="rows" class="layers">
          <LayerRow
            v-for="(layer, place) in apart.layers"
            :key="place"
            :layer="layer"
            :channels="apart.result.layers[place]"
            :colour="layerColour(isUpper(place))"
            :guides="guidesOf(place)"
            :guide="guideText(layer.guide)"
            :playing="apart.heardPiece === place"
            :other="place === 1"
            @role="setRole(place, $event)"
            @change="apart.setLayer(place, $event)"
            @guide="setGuide(place, $event)"
            @hear="apart.hear(place)"
          />
          <v-btn
            v-if="apart.layers.length === 1"
            class="another"
            :prepend-icon="ICONS.add"
            @click="apart.setRoles([apart.layers[0]!.role, 'closed hat'])"
            >something else is in it</v-btn
          >
          <p class="sum small">
            <HearButton name="what stays" :playing="apart.heardPiece === 'result'" @click="apart.hear('result')" />
            what stays
            <HearButton
              name="the slice as it was"
              :playing="apart.heardPiece === 'before'"
              @click="apart.hear('before')"
            />
            as it was
            <span class="quiet left"
              >in neither <span class="mono">{{ leftDb }}</span></span
            >
          </p>
        </div>
      </div>
      <RingRow />
      <footer>
        <ChoiceField
          label="Result"
          hint="New sounds on the next free keys; or the loop with this slice changed"
          spread
          :choices="places"
          :model-value="apart.inPlace ? 'in-place' : 'new'"
          @put="apart.inPlace = $event === 'in-place'"
        />
        <v-btn variant="text" data-tip="Choose all slices in which the same may be" @click="apart.chooseAlike()">
          all like it
        </v-btn>
        <span v-if="others > 0" class="small quiet"
          >and {{ others }} more that {{ others === 1 ? 'is' : 'are' }} chosen</span
        >
        <v-btn
          class="strong take"
          :prepend-icon="ICONS.cut"
          :disabled="!canKeep"
          data-testid="take-apart"
          @click="apart.keep()"
          >take apart</v-btn
        >
      </footer>
    </template>
  </section>
</template>

<style scoped>
.apart {
  display: flex;
  flex-direction: column;
  gap: 6px;
  position: relative;
  min-height: 0;
  padding-top: 16px;
}
header,
footer {
  display: flex;
  align-items: center;
  gap: 10px;
  min-width: 0;
}
h3 {
  font-size: 14px;
  white-space: nowrap;
}
.close {
  margin-left: auto;
}
.sum {
  display: flex;
  align-items: center;
  gap: 4px;
  margin: 0;
}
.left {
  margin-left: auto;
}
.thread {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  overflow: visible;
  pointer-events: none;
  fill: none;
  stroke-width: 2;
}
.body {
  flex: 2;
  display: grid;
  grid-template-columns: minmax(0, 1.1fr) minmax(320px, 1fr);
  gap: 12px;
  min-height: 130px;
}
.layers {
  position: relative;
  display: flex;
  flex-direction: column;
  gap: 6px;
  min-width: 0;
}
.another {
  align-self: flex-start;
}
.ring {
  flex: 1;
  min-height: 96px;
}
footer {
  border-top: 1px solid var(--rule);
  padding-top: 6px;
}
.take {
  margin-left: auto;
}
.problem {
  margin: 0;
  color: var(--signal-ink);
}
</style>
