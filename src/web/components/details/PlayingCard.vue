<script setup lang="ts">
/** How a part answers hands: voices, glide, the wheel; and its sounds in groups by what they are. */
import { computed } from 'vue';
import { ROLES, type Role } from '#core/analysis/role-names.ts';
import { setValue, type Owner } from '#core/project/commands/values.ts';
import type { Part } from '#core/document/schema.ts';
import { partValues, zoneValues } from '#core/queries/values.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';
import DetailCard from './DetailCard.vue';

const { part } = defineProps<{ part: Part }>();
const project = useProject();
const session = useSession();

const owners = computed<Owner[]>(() => [{ kind: 'part', id: part.id }]);
const values = computed(() => partValues(part));
const note = computed(() =>
  values.value.oneAtATime
    ? 'one at a time'
    : values.value.voices > 0
      ? `${values.value.voices} voices`
      : 'many at once',
);
const groups = computed(() => {
  const byRole = new Map<Role, string[]>();
  for (const { zone, at } of session.zones) {
    if (zone.plays.kind !== 'slice') continue;
    byRole.set(at.slice.role, [...(byRole.get(at.slice.role) ?? []), zone.id]);
  }
  return ROLES.flatMap((role) => {
    const zoneIds = byRole.get(role);
    if (!zoneIds) return [];
    const all = zoneIds.map((id) => zoneValues(project.document!.zones[id]!));
    return [{ role, zoneIds, muted: all.every(({ muted }) => muted), soloed: all.every(({ soloed }) => soloed) }];
  });
});

function toggle(zoneIds: readonly string[], param: 'muted' | 'soloed', is: boolean): void {
  const all = zoneIds.map((id): Owner => ({ kind: 'zone', id }));
  project.run(param === 'muted' ? 'mute a group' : 'solo a group', setValue, {
    owners: all,
    param,
    change: { to: !is },
  });
}
</script>

<template>
  <DetailCard id="part-playing" title="Playing" :note="note" folded>
    <ParamField :owners="owners" param="oneAtATime" />
    <ParamField v-if="!values.oneAtATime" :owners="owners" param="voices" />
    <template v-else>
      <ParamField :owners="owners" param="glideMs" />
      <template v-if="values.glideMs > 0">
        <ParamField :owners="owners" param="glideBy" />
        <ParamField :owners="owners" param="glideWhen" />
      </template>
    </template>
    <ParamField :owners="owners" param="bendCents" />
    <ul v-if="groups.length > 1" class="groups" aria-label="Groups of sounds">
      <li v-for="group in groups" :key="group.role">
        <v-btn
          class="name"
          variant="text"
          :data-tip="`Choose every ${group.role}`"
          @click="session.selectZones(group.zoneIds)"
          >{{ group.role }} <span class="quiet">{{ group.zoneIds.length }}</span></v-btn
        >
        <IconButton
          icon="mute"
          :words="`Mute every ${group.role}`"
          :pressed="group.muted"
          @click="toggle(group.zoneIds, 'muted', group.muted)"
        />
        <IconButton
          icon="solo"
          :words="`Hear only every ${group.role}`"
          :pressed="group.soloed"
          @click="toggle(group.zoneIds, 'soloed', group.soloed)"
        />
      </li>
    </ul>
  </DetailCard>
</template>

<style scoped>
.groups {
  display: grid;
  gap: 2px;
  padding-top: 4px;
}
li {
  display: flex;
  align-items: center;
  gap: 4px;
}
.name {
  flex: 1;
  justify-content: flex-start;
}
.name .quiet {
  padding-left: 6px;
}
</style>
