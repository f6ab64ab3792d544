<script setup lang="ts">
/** A bus in the running order: its name, level, meter, and the way to its chain. */
import { computed, useTemplateRef } from 'vue';
import { useRouter } from 'vue-router';
import type { Owner } from '#core/project/commands/values.ts';
import type { Channel } from '#core/document/schema.ts';
import { nameOfChannel } from '#core/queries/channel-names.ts';
import { channelValues } from '#core/queries/values.ts';
import { engine } from '../../audio/services.ts';
import { useProject } from '../../stores/document/project.ts';
import { useBuses } from '../../stores/sound/buses.ts';
import { useChain } from '../../stores/sound/chain.ts';
import NameField from '../fields/NameField.vue';
import ParamField from '../fields/ParamField.vue';
import LevelMeter from '../frame/LevelMeter.vue';
import IconButton from '../shared/IconButton.vue';

const { bus } = defineProps<{ bus: Channel }>();
const project = useProject();
const buses = useBuses();
const chain = useChain();
const router = useRouter();
const nameField = useTemplateRef('nameField');
const owners = computed<Owner[]>(() => [{ kind: 'channel', id: bus.id }]);
const values = computed(() => channelValues(bus));
const name = computed(() => bus.name ?? '');
/** What comes to it. */
const feeds = computed(() => {
  const { channels, sends } = project.document!;
  const led = Object.values(channels).filter(({ outputId }) => outputId === bus.id);
  const sent = Object.values(sends).filter(({ toChannelId }) => toChannelId === bus.id);
  const ids = new Set([...led.map(({ id }) => id), ...sent.map(({ fromChannelId }) => fromChannelId)]);
  const names = [...ids].map((id) => nameOfChannel(project.document!, id));
  return names.length === 0 ? 'nothing comes to it yet' : `from ${names.join(', ')}`;
});
const peak = () => [engine.status.mix.peaks.find(([id]) => id === bus.id)?.[1] ?? 0];

async function toChain(): Promise<void> {
  await router.push(`/shape/${project.document!.id}`);
  chain.show(bus.id);
}
</script>

<template>
  <section class="bus" :aria-label="name" data-testid="order-bus">
    <div class="head">
      <div class="line">
        <NameField ref="nameField" :name="name" what="bus" @rename="buses.rename(bus.id, $event)"
          ><h2 class="one-line name">{{ name }}</h2></NameField
        >
        <span class="pair">
          <IconButton icon="mute" words="mute" :pressed="values.muted" @click="buses.toggle(bus.id, 'muted')" />
          <IconButton
            icon="solo"
            words="solo"
            hint="Hear only this bus, and what comes to it"
            :pressed="values.soloed"
            @click="buses.toggle(bus.id, 'soloed')"
          />
        </span>
      </div>
      <div class="line">
        <ParamField :owners="owners" param="gainDb" :show-label="false" />
        <ParamField :owners="owners" param="pan" :show-label="false" />
      </div>
      <LevelMeter :label="`Level of ${name}`" :read="peak" />
    </div>
    <div class="facts">
      <span class="quiet small">{{ feeds }}</span>
      <span class="buttons">
        <v-btn data-tip="Its effects, in Shape" @click="toChain">its chain</v-btn>
        <v-btn @click="nameField?.edit()">rename</v-btn>
        <v-btn data-tip="What was led into it comes to the mix again" @click="buses.remove(bus.id)">remove</v-btn>
      </span>
    </div>
  </section>
</template>

<style scoped>
.bus {
  display: grid;
  grid-template-columns: 206px minmax(0, 1fr);
  gap: 14px;
  padding: 9px 12px;
  border-bottom: 1px solid var(--rule);
}
.head {
  display: grid;
  gap: 5px;
  align-content: start;
}
.line {
  display: flex;
  gap: 5px;
  align-items: center;
  justify-content: space-between;
}
.line > .number {
  flex: 1;
}
.name {
  font-size: 15px;
  font-weight: 660;
}
.pair,
.buttons {
  display: flex;
  gap: 4px;
}
.facts {
  display: grid;
  gap: 6px;
  align-content: start;
}
</style>
