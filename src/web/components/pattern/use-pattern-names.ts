/** The patterns of the chosen part with their names, the home patterns first. */
import { computed } from 'vue';
import { homeId } from '#core/document/home-id.ts';
import { nameOfHome } from '#core/queries/patterns.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';

export function usePatternNames() {
  const project = useProject();
  const session = useSession();
  return computed(() => {
    const { part } = session;
    if (!part || !project.document) return [];
    const { patterns } = project.document;
    return [
      ...part.cutOrder.map((cutId) => ({
        id: homeId(cutId),
        name: nameOfHome(project.document!, cutId),
        colour: undefined,
      })),
      ...part.patternOrder.map((id) => ({ id, name: patterns[id]!.name, colour: patterns[id]!.colour })),
    ];
  });
}
