<script setup lang="ts">
/** What controllers move in this project: over which range, taken over how; device by device. */
import { computed } from 'vue';
import { MAPPED_ACTIONS, MAPPING_ROWS } from '#core/params/mapping-rows.ts';
import { formatValue, fullValues } from '#core/params/row.ts';
import { valueAt } from '#core/params/ways.ts';
import type { Owner } from '#core/project/commands/values.ts';
import type { Mapping } from '#core/document/schema.ts';
import { mappedRow, mappedWords, movedWords } from '#core/queries/mappings.ts';
import { addMapping } from '#core/project/commands/mappings.ts';
import { keyName } from '../../canvas/key-names.ts';
import { useDialogs } from '../../stores/frame/dialogs.ts';
import { useControllers } from '../../stores/keys/controllers.ts';
import { useDeviceHabits } from '../../stores/keys/device-habits.ts';
import { useDevices } from '../../stores/keys/devices.ts';
import { useLearning } from '../../stores/keys/learning.ts';
import { DIALS, FIRST_DIAL, STAND_IN_NAME } from '../../stores/keys/stand-in.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { ICONS } from '../../theme/icons.ts';
import DetailCard from '../details/DetailCard.vue';
import NumberField from '../fields/NumberField.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';

const project = useProject();
const session = useSession();
const controllers = useControllers();
const habits = useDeviceHabits();
const devices = useDevices();
const dialogs = useDialogs();
const learning = useLearning();

/** Devices that are there, and those that something is known of. */
const groups = computed(() => {
  const there = devices.devices.map(({ name }) => name);
  const known = [...controllers.mappings.map(({ device }) => device), ...habits.names];
  const names = [...new Set([...known, ...there])];
  return names.map((name) => ({ name, isThere: there.includes(name), list: controllers.mappingsOf(name) }));
});
const shown = computed(() => groups.value.filter(({ list }) => list.length > 0));
const count = computed(() => shown.value.reduce((sum, { list }) => sum + list.length, 0));
const note = computed(() =>
  count.value === 0 ? 'nothing' : `${count.value} ${count.value === 1 ? 'thing' : 'things'}`,
);
const isOwn = ({ id }: Mapping) => Object.hasOwn(project.document!.mappings, id);
const ownersOf = ({ id }: Mapping): Owner[] => [{ kind: 'mapping', id }];

/** Where on its device; the stand-in's dials have names. */
function placeWords({ device, source }: Mapping): string {
  if (source.kind === 'control' && device === STAND_IN_NAME) {
    const dial = source.number - FIRST_DIAL;
    if (dial >= 0 && dial < DIALS) return `dial ${dial + 1}`;
    if (source.number === 1) return 'modulation';
  }
  if (source.kind === 'keys') return `${keyName(source.low)} to ${keyName(source.high)}`;
  return source.kind === 'key' ? `key ${keyName(source.number)}` : movedWords(source);
}

/** The ends of its range, as they are shown of the setting. */
function rangeWords({ target, values }: Mapping): string {
  if (target.kind !== 'setting') return '';
  const row = mappedRow(project.document!, target);
  if (row?.kind !== 'number') return '';
  const { from, to } = fullValues(MAPPING_ROWS, values);
  const words = (share: number) => formatValue(row, valueAt(row, share) as number);
  return `${words(from)} → ${words(to)}`;
}

/** A range of keys of a device that plays the chosen part. */
function splitKeys(device: string): void {
  if (!session.part) return;
  const target = { kind: 'part' as const, id: session.part.id, shiftKeys: 0 };
  const source = { kind: 'keys' as const, low: 0, high: 59 };
  project.run('keys over parts', addMapping, { device, channel: null, source, target });
}

/** The next that is moved does this, on whichever part is chosen then. */
function learnAction(does: string, words: string): void {
  learning.learn({ kind: 'action', does, id: null }, words);
}
</script>

<template>
  <DetailCard id="by-hand" title="Moved by hand" :note="note" folded>
    <div class="buttons">
      <v-btn
        :prepend-icon="ICONS.learn"
        :aria-pressed="learning.isOn"
        data-tip="Choose a setting and move a controller, in either order"
        @click="learning.isOn ? learning.end() : learning.begin()"
        >learn</v-btn
      >
      <v-menu max-height="420">
        <template #activator="{ props: menu }">
          <v-btn v-bind="menu" data-tip="What a key, pad or controller is to do">do …</v-btn>
        </template>
        <v-list aria-label="What is to be done">
          <v-list-item
            v-for="action in MAPPED_ACTIONS"
            :key="action.value"
            :title="action.words"
            @click="learnAction(action.value, action.words)"
          />
        </v-list>
      </v-menu>
      <v-menu>
        <template #activator="{ props: menu }">
          <v-btn v-bind="menu" data-tip="A range of its keys plays this part">keys …</v-btn>
        </template>
        <v-list aria-label="A range of keys of">
          <v-list-item v-for="group in groups" :key="group.name" :title="group.name" @click="splitKeys(group.name)" />
        </v-list>
      </v-menu>
      <IconButton
        icon="keys"
        words="The stand-in controller"
        action="stand-in"
        :pressed="dialogs.standIn"
        @click="dialogs.standIn = !dialogs.standIn"
      />
    </div>
    <p v-if="learning.isOn" class="quiet small">
      {{ learning.target ? `${learning.words}: move a controller, press a key or pad` : 'choose a setting' }}
    </p>
    <p v-if="count === 0 && !learning.isOn" class="quiet small">
      Nothing yet. A dial, key, pad or wheel may move any setting: learn it, or press the right button on the setting.
    </p>
    <template v-for="group in shown" :key="group.name">
      <div class="device">
        <b class="one-line">{{ group.name }}</b>
        <span v-if="!group.isThere" class="away">not plugged in</span>
        <v-btn
          v-else
          variant="text"
          data-tip="In every project: on the song, the mix, the dials, and on whichever part is chosen"
          @click="habits.keep(group.name)"
          >in every project</v-btn
        >
      </div>
      <v-menu v-for="one in group.list" :key="one.id" :close-on-content-click="false">
        <template #activator="{ props: menu }">
          <v-btn v-bind="menu" variant="text" class="mapping" :data-tip="mappedWords(project.document!, one.target)">
            <span class="one-line"
              ><b>{{ placeWords(one) }}</b> → {{ mappedWords(project.document!, one.target) }}</span
            >
            <span class="range mono">{{
              [rangeWords(one), isOwn(one) ? '' : 'in every project'].filter(Boolean).join(', ')
            }}</span>
          </v-btn>
        </template>
        <v-sheet class="fields">
          <template v-if="isOwn(one) && one.target.kind === 'setting'">
            <ParamField :owners="ownersOf(one)" param="from" />
            <ParamField :owners="ownersOf(one)" param="to" />
            <ParamField :owners="ownersOf(one)" param="bend" />
            <ParamField :owners="ownersOf(one)" param="meets" />
            <ParamField v-if="one.source.kind === 'control'" :owners="ownersOf(one)" param="tells" />
          </template>
          <template v-else-if="isOwn(one) && one.source.kind === 'keys' && one.target.kind === 'part'">
            <NumberField
              label="lowest"
              :model-value="one.source.low"
              :min="0"
              :max="127"
              @update:model-value="controllers.setRange(one, { low: $event })"
            />
            <NumberField
              label="highest"
              :model-value="one.source.high"
              :min="0"
              :max="127"
              @update:model-value="controllers.setRange(one, { high: $event })"
            />
            <NumberField
              label="higher by"
              unit="keys"
              :model-value="one.target.shiftKeys"
              :min="-127"
              :max="127"
              @update:model-value="controllers.setRange(one, { shiftKeys: $event })"
            />
          </template>
          <v-btn @click="controllers.remove(one)">{{ isOwn(one) ? 'take it off' : 'take it off every project' }}</v-btn>
        </v-sheet>
      </v-menu>
    </template>
  </DetailCard>
</template>

<style scoped>
.small {
  font-size: 13px;
}
.device {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 8px;
  font-size: 13px;
  padding-top: 4px;
}
.away {
  color: var(--signal-ink);
  white-space: nowrap;
}
.mapping {
  height: auto;
  padding: 2px 0;
  font-weight: 400;
  font-size: 13px;
  justify-content: stretch;
}
.mapping :deep(.v-btn__content) {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  width: 100%;
  text-align: left;
}
.range {
  font-size: 13px;
  color: var(--ink-quiet);
}
.fields {
  display: grid;
  gap: 8px;
  width: 260px;
  padding: 12px;
}
</style>
