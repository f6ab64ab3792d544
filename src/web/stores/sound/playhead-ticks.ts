/** Where the chosen part's pattern is, in ticks of it; null while it is still or counted in. */
import { partTempoBpm } from '#core/queries/following.ts';
import { partValues } from '#core/queries/values.ts';
import { engine } from '../../audio/services.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';

export function usePlayheadTicks(): () => number | null {
  const project = useProject();
  const session = useSession();
  return () => {
    const { document } = project;
    const { part, lengthTicks } = session;
    if (!engine.status.playing || lengthTicks === 0 || !document || !part) return null;
    const at = engine.partTicksNow(part.id, partTempoBpm(document, part));
    if (at < 0) return null;
    return (((at - partValues(part).startOffsetTicks) % lengthTicks) + lengthTicks) % lengthTicks;
  };
}
