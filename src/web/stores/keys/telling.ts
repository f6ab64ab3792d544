/** Devices that show values are told where the settings stand that their controllers move. */
import { watch, type Ref } from 'vue';
import { mappedShare, meantShare, placeTold, shareTold, tellPlace } from '#core/midi/controllers.ts';
import { MAPPING_ROWS } from '#core/params/mapping-rows.ts';
import { fullValues } from '#core/params/row.ts';
import { shareOf } from '#core/params/ways.ts';
import type { Mapping, ProjectDocument } from '#core/document/schema.ts';
import { mappedRow, mappedValue } from '#core/queries/mappings.ts';
import type { MidiOutput } from '../../devices/midi.ts';
import { useProject } from '../document/project.ts';

/** What a device has moved itself it is not told for so long. */
const OWN_MS = 400;
const TELL_EVERY_MS = 60;

/** What each output was told last of each mapping: by the mapping, then by the output. */
export type Told = Map<string, Map<string, number>>;

export interface Telling {
  mappingsOf: (device: string) => readonly Mapping[];
  outputs: Ref<readonly MidiOutput[]>;
  /** When its controller was moved last. */
  movedAt: (mapping: Mapping) => number | undefined;
  /** The device turned the controller by itself. */
  turnedTo: (mapping: Mapping, share: number) => void;
  told: Told;
}

/** From now on, whenever a setting or what moves it changes. */
export function watchTelling({ mappingsOf, outputs, movedAt, turnedTo, told }: Telling): void {
  const project = useProject();
  let tellAt: ReturnType<typeof setTimeout> | undefined;

  function tell(document: ProjectDocument, output: MidiOutput, mapping: Mapping): void {
    const { source, target, channel } = mapping;
    if (source.kind !== 'control' || target.kind !== 'setting') return;
    if (performance.now() - (movedAt(mapping) ?? -Infinity) < OWN_MS) return;
    const values = fullValues(MAPPING_ROWS, mapping.values);
    const row = mappedRow(document, target);
    // A dial without ends stands nowhere.
    if (!row || values.tells.startsWith('turn')) return;
    const share = meantShare(values, shareOf(row, mappedValue(document, target)));
    if (share === null) return;
    const isPair = values.tells === 'fine' && source.number < 32;
    const place = placeTold(share, isPair);
    const known = told.get(mapping.id) ?? new Map<string, number>();
    const before = known.get(output.id);
    if (before === place) return;
    told.set(mapping.id, known.set(output.id, place));
    if (output.turnsDials) turnedTo(mapping, mappedShare(values, shareTold(place, isPair)));
    for (const bytes of tellPlace(channel ?? 0, source.number, place, isPair, before)) output.send(bytes);
  }

  function tellAll(): void {
    const { document } = project;
    if (!document) return;
    for (const output of outputs.value) for (const mapping of mappingsOf(output.name)) tell(document, output, mapping);
  }

  watch(
    [() => project.document, outputs, () => outputs.value.map(({ name }) => mappingsOf(name))],
    () => {
      clearTimeout(tellAt);
      tellAt = setTimeout(tellAll, TELL_EVERY_MS);
    },
    { immediate: true },
  );
}
