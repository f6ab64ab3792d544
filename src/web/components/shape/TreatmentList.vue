<script setup lang="ts">
/** The treatments of a part: one click puts another one on, when the song has it so while it runs; how it sounds is kept. */
import { computed, nextTick, ref, useTemplateRef } from 'vue';
import type { Part } from '#core/document/schema.ts';
import { songValues } from '#core/queries/values.ts';
import { useLaying } from '../../stores/keys/laying.ts';
import { useProject } from '../../stores/document/project.ts';
import { placeWords, useSwitching } from '../../stores/keys/switching.ts';
import { useTreating } from '../../stores/sound/treating.ts';
import { ICONS } from '../../theme/icons.ts';
import NameField from '../fields/NameField.vue';
import IconButton from '../shared/IconButton.vue';

const { part } = defineProps<{ part: Part }>();
const project = useProject();
const treating = useTreating();
const switching = useSwitching();
const laying = useLaying();
const nameField = useTemplateRef('nameField');
const renamingId = ref<string | null>(null);

/** How one treatment leads to another. */
const WAYS = [
  {
    title: 'A dial from here to …',
    tip: 'Between two treatments all that can be moved is blended',
    isOverPattern: false,
  },
  {
    title: 'Over this pattern to …',
    tip: 'A dial between the two, and a lane that moves it: in steps, or in time',
    isOverPattern: true,
  },
];
const treatments = computed(() => treating.statesOf(part));
const renamingName = computed(() => part.treatments?.find(({ id }) => id === renamingId.value)?.name ?? '');
const when = computed(
  () => ({ now: '', beat: 'next beat', bar: 'next bar', round: 'at its end' })[songValues(project.document!).changesAt],
);
/** Keys that put a treatment on, by the treatment. */
const keysOf = computed(() => {
  const keys = new Map<string, string[]>();
  for (const { treatmentId, ...place } of part.switches ?? []) {
    if (treatmentId !== undefined) keys.set(treatmentId, [...(keys.get(treatmentId) ?? []), placeWords(place)]);
  }
  return keys;
});

async function startRename(id: string): Promise<void> {
  renamingId.value = id;
  await nextTick();
  void nameField.value?.edit();
}

function rename(name: string): void {
  if (renamingId.value) treating.rename(part.id, renamingId.value, name);
}

function putOnKey(treatmentId: string, name: string, whileHeld: boolean): void {
  const wanted = { does: 'treatment', patternId: null, treatmentId, whileHeld } as const;
  laying.awaitKey({
    words: `Press the key for “${name}”, or move a controller`,
    take: (key) => switching.lay(part.id, { ...wanted, key }),
    takeControl: (control) => switching.lay(part.id, { ...wanted, key: null, control }),
  });
}
</script>

<template>
  <div class="treatments" role="group" aria-label="Treatments">
    <NameField ref="nameField" :name="renamingName" what="treatment" class="renaming" @rename="rename"
      ><span
    /></NameField>
    <span
      v-for="one in treatments"
      :key="one.id"
      class="one"
      :class="{ on: one.isOn, held: one.isHeld, waits: one.waits }"
    >
      <v-btn
        class="put"
        variant="text"
        :aria-pressed="one.isOn"
        :data-tip="`${one.name}: the part sounds so; double-click renames it`"
        @click="treating.putOn(part.id, one.id)"
        @dblclick="startRename(one.id)"
        @keydown.f2.stop.prevent="startRename(one.id)"
      >
        <span class="one-line name">{{ one.name }}</span><span v-if="keysOf.has(one.id)" class="mono quiet key">{{
          keysOf.get(one.id)!.join(' ')
        }}</span
        ><span v-if="one.waits && when" class="when">· {{ when }}</span>
      </v-btn>
      <v-menu>
        <template #activator="{ props: menu }">
          <IconButton v-bind="menu" icon="more" :words="`More for ${one.name}`" variant="text" />
        </template>
        <v-list>
          <v-list-item title="Rename" @click="startRename(one.id)" />
          <v-list-item
            title="Keep anew"
            data-tip="As the part sounds now, under this name"
            :disabled="one.isOn"
            @click="treating.keep(part.id, one.id)"
          />
          <v-list-item
            title="On a key …"
            data-tip="The next key that is pressed, or controller that is moved, puts it on"
            @click="putOnKey(one.id, one.name, false)"
          />
          <v-list-item
            title="On a key, while held …"
            data-tip="Only as long as the key is pressed"
            @click="putOnKey(one.id, one.name, true)"
          />
          <v-list-item
            v-for="way in WAYS"
            :key="way.title"
            :title="way.title"
            :data-tip="way.tip"
            :disabled="treatments.length < 2"
          >
            <v-menu activator="parent" submenu>
              <v-list :aria-label="way.title">
                <v-list-item
                  v-for="other in treatments.filter(({ id }) => id !== one.id)"
                  :key="other.id"
                  :title="other.name"
                  @click="treating.blend(part, one.id, other.id, way.isOverPattern)"
                />
              </v-list>
            </v-menu>
          </v-list-item>
          <v-list-item title="Give it up" @click="treating.remove(part.id, one.id)" />
        </v-list>
      </v-menu>
    </span>
    <v-btn
      :prepend-icon="ICONS.add"
      data-tip="How the part sounds now is kept: all settings of its slices, its level, its transposition, its effects"
      @click="treating.keep(part.id)"
      >keep this sound</v-btn
    >
    <span v-if="laying.awaited" class="awaited small">{{ laying.awaited.words }}</span>
  </div>
</template>

<style scoped>
.treatments {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}
.one {
  display: inline-flex;
  align-items: center;
  border: 1px solid var(--rule);
  border-radius: 8px;
  max-width: 100%;
  min-width: 0;
}
.one.on {
  background: var(--sea-wash);
  border-color: var(--sea);
}
.one.held {
  outline: 2px dashed var(--sea);
  outline-offset: -1px;
}
.one.waits {
  outline: 2px dotted var(--sea);
  outline-offset: 1px;
}
.put {
  min-width: 0;
}
.when {
  padding-left: 5px;
}
.renaming:not(.name-field) {
  display: none;
}
.name {
  max-width: 18ch;
}
.key {
  padding-left: 6px;
  font-size: 12px;
}
</style>
