<script setup lang="ts">
/**
 * Every sound of the part with the shape that it has: one sees which differ, and picks those to change. Rows are built
 * when they come into view: a part may have thousands.
 */
import { useElementSize } from '@vueuse/core';
import { computed, useTemplateRef } from 'vue';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { useTransport } from '../../stores/sound/transport.ts';
import TileRows from './TileRows.vue';

const project = useProject();
const session = useSession();
const transport = useTransport();
/** Least width and height of a tile with the gap beside it, as the rows lay them. */
const TILE_PX = { width: 110, height: 90 };
const ROWS_AT_ONCE = 6;

const list = useTemplateRef<HTMLElement>('list');
const { width } = useElementSize(list);
const columns = computed(() => Math.max(1, Math.floor((width.value + 6) / TILE_PX.width)));
const chosen = computed(() => new Set(session.selectedZones.map(({ zone }) => zone.id)));
/** By the source that they are of, in rows that are built together. */
const groups = computed(() =>
  session.cuts.map((cut) => {
    const ofCut = session.zones.filter((one) => one.cut.id === cut.id);
    const each = columns.value * ROWS_AT_ONCE;
    const blocks = Array.from({ length: Math.ceil(ofCut.length / each) }, (_, n) =>
      ofCut.slice(n * each, (n + 1) * each),
    );
    return { id: cut.id, name: project.document!.sources[cut.sourceId]!.name, blocks };
  }),
);
const heightOf = (count: number) => Math.ceil(count / columns.value) * TILE_PX.height;

/** From where Shift chooses. */
let anchor: string | null = null;
function pick(event: MouseEvent, zoneId: string): void {
  const order = session.zones.map(({ zone }) => zone.id);
  const from = order.indexOf(anchor ?? '');
  if (event.shiftKey && from >= 0) {
    const to = order.indexOf(zoneId);
    const range = order.slice(Math.min(from, to), Math.max(from, to) + 1);
    session.selectZones(from <= to ? range : range.reverse());
  } else {
    session.selectZones([zoneId], event.ctrlKey || event.metaKey);
    anchor = zoneId;
  }
  transport.playZone(zoneId);
}
</script>

<template>
  <div ref="list" class="list" data-testid="zone-tiles">
    <template v-if="width > 0">
      <section v-for="{ id, name, blocks } in groups" :key="id" :aria-label="name">
        <h3 v-if="groups.length > 1" class="small quiet one-line">{{ name }}</h3>
        <v-lazy
          v-for="(block, place) in blocks"
          :key="`${columns} ${place}`"
          class="block"
          :min-height="heightOf(block.length)"
          :options="{ rootMargin: '200px' }"
        >
          <TileRows :placed="block" :chosen="chosen" @pick="pick" />
        </v-lazy>
      </section>
    </template>
  </div>
</template>

<style scoped>
.block {
  padding-bottom: 6px;
}
</style>
