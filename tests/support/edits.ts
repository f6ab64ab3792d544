/** Short ways to say common edits in tests; each goes through the real commands. */
import type { CommandResult } from '#core/project/commands/command.ts';
import { rowOf, setValue, type Owner, type Value } from '#core/project/commands/values.ts';
import { homeId } from '#core/document/home-id.ts';
import type { Part, ProjectDocument } from '#core/document/schema.ts';
import { slicesOfCut, type PlacedSlice } from '#core/queries/slices.ts';
import type { ChannelValues, CutValues, EventValues, PartValues, SongValues, ZoneValues } from '#core/params/tables.ts';
import { songValues } from '#core/queries/values.ts';
import { countingEnv } from './documents.ts';

export type PartSettings = Partial<PartValues & Pick<CutValues, 'follow' | 'tail' | 'material'> & ChannelValues>;

/** Sets values of whichever of the owners has such a setting. */
function setAll(document: ProjectDocument, owners: readonly Owner[][], values: Record<string, unknown>): CommandResult {
  let result: CommandResult = { ok: true, document };
  for (const [param, to] of Object.entries(values)) {
    if (!result.ok) return result;
    const current = result.document;
    const chosen = owners.find(([owner]) => owner && rowOf(current, owner, param));
    result = setValue(
      current,
      { owners: chosen ?? owners[0] ?? [], param, change: { to: to as Value } },
      countingEnv(),
    );
  }
  return result;
}

export function setPart(
  document: ProjectDocument,
  { partId, settings }: { partId: string; settings: PartSettings },
  _env?: unknown,
): CommandResult {
  const part = document.parts[partId]!;
  const cuts = part.cutOrder.map((id): Owner => ({ kind: 'cut', id }));
  return setAll(document, [[{ kind: 'part', id: partId }], cuts, [{ kind: 'channel', id: part.channelId }]], settings);
}

/** Zones of slices of a part's first cut. */
export function zoneIdsOf(document: ProjectDocument, partId: string, sliceIds: readonly string[]): string[] {
  return document.parts[partId]!.zoneOrder.filter((id) => sliceIds.includes(document.zones[id]!.plays.sliceId ?? ''));
}

export function setZones(
  document: ProjectDocument,
  { partId, sliceIds, sound }: { partId: string; sliceIds: readonly string[]; sound: Partial<ZoneValues> },
  _env?: unknown,
): CommandResult {
  return setAll(document, [zoneIdsOf(document, partId, sliceIds).map((id): Owner => ({ kind: 'zone', id }))], sound);
}

export function setEvents(
  document: ProjectDocument,
  { patternId, eventIds, settings }: { patternId: string; eventIds: readonly string[]; settings: Partial<EventValues> },
  _env?: unknown,
): CommandResult {
  return setAll(document, [eventIds.map((id): Owner => ({ kind: 'event', patternId, id }))], settings);
}

export function setSong(document: ProjectDocument, values: Partial<SongValues>, _env?: unknown): CommandResult {
  return setAll(document, [[{ kind: 'song' }]], values);
}

export function slicesOfPart(document: ProjectDocument, part: Part): readonly PlacedSlice[] {
  return slicesOfCut(document, part.cutOrder[0]!);
}

export function tempoOf(document: ProjectDocument): number {
  return songValues(document).tempoBpm;
}

/** Id of the home pattern of a part's first cut. */
export function homeOf(document: ProjectDocument, partId: string): string {
  return homeId(document.parts[partId]!.cutOrder[0]!);
}
