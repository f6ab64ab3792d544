/** Colours of what a part's zones play, by the zones' ids. */
import { computed, type ComputedRef } from 'vue';
import type { Part } from '#core/document/schema.ts';
import { zonesOfPart } from '#core/queries/zones.ts';
import { NIGHT_LIFT, sliceColours } from '../../canvas/palette.ts';
import { useProject } from '../../stores/document/project.ts';
import { themeName } from '../../theme/theme.ts';

export function useZoneColours(part: () => Part): ComputedRef<ReadonlyMap<string, string>> {
  const project = useProject();
  const zones = computed(() => (project.document ? zonesOfPart(project.document, part()) : []));
  return computed(() => {
    const lift = themeName.value === 'dark' ? NIGHT_LIFT : 0;
    const colours = sliceColours(
      zones.value.map(({ at }) => at.slice.brightnessHz),
      lift,
    );
    return new Map(zones.value.map(({ zone }, place) => [zone.id, colours[place]!]));
  });
}
