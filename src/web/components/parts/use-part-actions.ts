/** What can be done to a whole part. */
import { movePart, removePart, renamePart } from '#core/project/commands/parts.ts';
import { setValue } from '#core/project/commands/values.ts';
import type { Part } from '#core/document/schema.ts';
import { channelValues } from '#core/queries/values.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';

export function usePartActions(part: () => Part) {
  const project = useProject();
  const session = useSession();

  function toggle(param: 'muted' | 'soloed'): void {
    const { channelId } = part();
    const to = !channelValues(project.document!.channels[channelId]!)[param];
    const owners = [{ kind: 'channel' as const, id: channelId }];
    project.run(param === 'muted' ? 'mute' : 'solo', setValue, { owners, param, change: { to } });
  }

  async function duplicate(): Promise<void> {
    const { duplicatePart } = await import('#core/project/commands/copy-part.ts');
    if (!project.run('copy a part', duplicatePart, { partId: part().id })) return;
    const order = project.document!.partOrder;
    session.choosePart(order[order.indexOf(part().id) + 1]!);
  }

  return {
    toggle,
    duplicate,
    rename: (name: string) => project.run('rename part', renamePart, { partId: part().id, name }),
    move: (by: -1 | 1) => project.run('move part', movePart, { partId: part().id, by }),
    remove: () => project.run(`remove ${part().name}`, removePart, { partId: part().id }),
  };
}
