<script setup lang="ts">
/** What the selected slices are: name and role, which can be put right, and what was read from the sound. */
import { computed, defineAsyncComponent } from 'vue';
import { ALIKE_WITHIN } from '#core/analysis/alike.ts';
import { ROLES, type Role } from '#core/analysis/role-names.ts';
import { peakBetween } from '#core/dsp/peaks.ts';
import { isOldGuess } from '#core/project/heard.ts';
import { nameSlices, setSliceRole } from '#core/project/commands/slices.ts';
import type { Slice } from '#core/document/schema.ts';
import { gainToDb } from '#core/units/level.ts';
import { keyName } from '../../canvas/key-names.ts';
import { library } from '../../audio/services.ts';
import { useNotices } from '../../stores/frame/notices.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import DetailCard from './DetailCard.vue';
import FactList from './FactList.vue';

/** Fetched when it is wanted. */
const OldGuessRow = defineAsyncComponent(() => import('./OldGuessRow.vue'));

const project = useProject();
const session = useSession();
const notices = useNotices();
const roles = ROLES.map((value) => ({ value, words: value }));

const chosen = computed(() => session.selectedSlices);
const first = computed(() => chosen.value[0]!);
const isSingle = computed(() => chosen.value.length === 1);
const role = computed(() => (differs((slice) => slice.role) ? null : first.value.slice.role));
const peakDb = computed(() => {
  const peaks = session.loaded?.peaks;
  return peaks ? gainToDb(peakBetween(peaks, first.value.startFrame, first.value.endFrame)) : -Infinity;
});
const note = computed(() => {
  const { midi, cents } = first.value.slice;
  if (midi === null) return 'none';
  const away = Math.round(cents ?? 0);
  return `${keyName(midi)} ${away >= 0 ? '+' : '−'}${Math.abs(away)} ct`;
});
/** Of a guess, as sure as it is: below the first it may be another, below the second nobody knows. */
const SURE = 0.6;
const UNSURE = 0.4;
const guess = computed(() => {
  const { roleByHand, roleConfidence, role: heard, secondRole } = first.value.slice;
  if (!isSingle.value || roleByHand || roleConfidence >= SURE) return null;
  const words = roleConfidence < UNSURE ? `not sure: ${heard}` : heard;
  return { words, percent: Math.round(100 * roleConfidence), other: secondRole === heard ? undefined : secondRole };
});
const key = computed(() => session.zoneBySlice.get(first.value.slice.id)?.keys?.low ?? null);
const facts = computed(() => [
  { name: 'note', value: note.value },
  { name: 'brightness', value: `${Math.round(first.value.slice.brightnessHz)} Hz` },
  { name: 'peak', value: peakDb.value === -Infinity ? 'silent' : `${peakDb.value.toFixed(1)} dB` },
  { name: 'key', value: key.value === null ? 'none' : keyName(key.value) },
]);

function differs(read: (slice: Slice) => unknown): boolean {
  return chosen.value.some((at) => read(at.slice) !== read(first.value.slice));
}

function setRole(to: Role): void {
  project.run('role', setSliceRole, { cutId: session.cut!.id, sliceIds: session.sliceIds, role: to });
  if (isSingle.value) void offerRoleToAlike(to);
}

/** One role put right: its look-alikes are offered the same. */
async function offerRoleToAlike(to: Role): Promise<void> {
  const cut = session.cut!;
  const { placed } = session;
  const from = first.value.index;
  const ranges = placed.map(({ startFrame, endFrame }) => ({ startFrame, endFrame }));
  const rows = await library.likeness(cut.sourceId, ranges).catch(() => []);
  const alike = placed.filter(
    (at) =>
      at.index !== from && !at.slice.roleByHand && at.slice.role !== to && (rows[from]?.[at.index] ?? 1) < ALIKE_WITHIN,
  );
  if (alike.length === 0) return;
  const sliceIds = alike.map((at) => at.slice.id);
  notices.info(`${alike.length} more ${alike.length === 1 ? 'slice sounds' : 'slices sound'} like it.`, {
    label: `Make ${alike.length === 1 ? 'it' : 'them'} ${to}, too`,
    run: () => project.run('role', setSliceRole, { cutId: cut.id, sliceIds, role: to }),
  });
}

/** Guesses of older ears are among those that are chosen. */
const isOld = computed(() => chosen.value.some(({ slice }) => isOldGuess(slice)));

function setName(name: string): void {
  project.run('name', nameSlices, { cutId: session.cut!.id, sliceIds: session.sliceIds, name });
}
</script>

<template>
  <DetailCard
    id="slice-facts"
    title="What it is"
    :note="isSingle ? (guess?.words ?? first.slice.role) : (role ?? 'mixed')"
  >
    <ChoiceField label="role" test-id="slice-role" :model-value="role" :choices="roles" @put="setRole" />
    <p v-if="guess" class="quiet small guess" data-testid="role-guess">
      heard with <span class="mono">{{ guess.percent }} %</span>{{ guess.other ? '; or is it a' : '' }}
      <v-btn v-if="guess.other" size="small" @click="setRole(guess.other)">{{ guess.other }}</v-btn>
    </p>
    <OldGuessRow v-if="isOld" />
    <div class="row">
      <span>name</span>
      <v-text-field
        aria-label="name"
        :model-value="differs((slice) => slice.name) ? '' : first.slice.name"
        :placeholder="isSingle ? first.label : 'one for all, numbered'"
        maxlength="200"
        @change="setName(($event.target as HTMLInputElement).value)"
        @keydown.stop
      />
    </div>
    <FactList v-if="isSingle" :facts="facts" />
  </DetailCard>
</template>
