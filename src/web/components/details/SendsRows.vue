<script setup lang="ts">
/** Where a channel is led, and what it sends copies of its sound to. */
import { computed } from 'vue';
import { nameOfChannel } from '#core/queries/channel-names.ts';
import { useProject } from '../../stores/document/project.ts';
import { useBuses } from '../../stores/sound/buses.ts';
import { ICONS } from '../../theme/icons.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';

const { channelId } = defineProps<{ channelId: string }>();
const project = useProject();
const buses = useBuses();
const MIX = '';
const NEW = 'new';
const channel = computed(() => project.document!.channels[channelId]!);
const others = computed(() => buses.buses.filter(({ id }) => id !== channelId));
const outputs = computed(() => [
  { value: MIX, words: 'the mix' },
  ...others.value.map(({ id, name }) => ({ value: id, words: name ?? '' })),
  { value: NEW, words: 'a new bus' },
]);
const sends = computed(() =>
  Object.values(project.document!.sends)
    .filter(({ fromChannelId }) => fromChannelId === channelId)
    .map((send) => ({ ...send, name: nameOfChannel(project.document!, send.toChannelId) })),
);
const free = computed(() =>
  others.value.filter(({ id }) => sends.value.every(({ toChannelId }) => toChannelId !== id)),
);

function lead(to: string): void {
  if (to === NEW) buses.leadToNew(channelId);
  else buses.lead(channelId, to || null);
}
</script>

<template>
  <ChoiceField
    label="led to"
    hint="Through a bus several channels share a chain and a level"
    :model-value="channel.outputId ?? MIX"
    :choices="outputs"
    @put="lead"
  />
  <div v-for="send in sends" :key="send.id" class="send">
    <ParamField :owners="[{ kind: 'send', id: send.id }]" param="gainDb" :label="`to ${send.name}`" class="level" />
    <ParamField :owners="[{ kind: 'send', id: send.id }]" param="tap" :show-label="false" class="bare" />
    <IconButton icon="remove" :words="`Send to ${send.name} no more`" @click="buses.endSend(send.id)" />
  </div>
  <v-menu>
    <template #activator="{ props: menu }">
      <v-btn
        v-bind="menu"
        class="more"
        :prepend-icon="ICONS.add"
        data-tip="A copy of its sound goes there as well, at a level of its own: to an echo or a room that several share"
        >send to</v-btn
      >
    </template>
    <v-list>
      <v-list-item v-for="bus in free" :key="bus.id" :title="bus.name" @click="buses.send(channelId, bus.id)" />
      <v-list-item title="a new bus" @click="buses.send(channelId, null)" />
    </v-list>
  </v-menu>
</template>

<style scoped>
.send {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 4px;
  align-items: center;
}
.level {
  grid-column: 1 / -1;
}
.more {
  justify-self: start;
}
</style>
