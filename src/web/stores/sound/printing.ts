/** A part printed: what its pattern sounds like becomes a source of its own, cut and ready. */
import { useStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { printedDocument, printedLength, printedLoop, printedStarts, type PrintWish } from '#core/queries/printing.ts';
import { foundSlices } from '#core/project/new-part.ts';
import { addCut, addPart, movePart, removePart, type NewCut } from '#core/project/commands/parts.ts';
import type { PlayedPhrase } from '#core/patterns/played.ts';
import { layPattern } from '#core/project/commands/patterns.ts';
import { withoutSilence } from '#core/engine/last-output.ts';
import { writeWav } from '#core/formats/wav-write.ts';
import { safeFileName } from '#core/formats/file-names.ts';
import type { Part, ProjectDocument } from '#core/document/schema.ts';
import { AppError } from '#core/units/errors.ts';
import { describeFailure } from '../../api/words.ts';
import { bounceInWorker, planToBounce } from '../../audio/bouncing.ts';
import { ENGINE_SAMPLE_RATE } from '../../audio/engine-host.ts';
import { engine, library } from '../../audio/services.ts';
import { patternName } from '#core/queries/patterns.ts';
import { useNotices } from '../frame/notices.ts';
import { useWork } from '../frame/work.ts';
import { COMMAND_ENV, useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { useImports } from '../shelf/imports.ts';
import { useShelf } from '../shelf/shelf.ts';

/** Where what was printed comes: a part behind the old one, in its place, or one sound on a free key of it. */
export type PrintPlace = 'beside' | 'instead' | 'key';

/** What a print is of: the part as a document has it, with the pattern that is played. */
export interface PrintSubject {
  document: ProjectDocument;
  part: Part;
  name: string;
}

export interface PrintSettings extends PrintWish {
  ringsOut: boolean;
  place: PrintPlace;
}

const USUAL: PrintSettings = { withChain: true, rounds: 1, ringsOut: true, place: 'beside' };
const PLACES: readonly PrintPlace[] = ['beside', 'instead', 'key'];
const MOST_ROUNDS = 8;

/** What the browser has kept, as far as it is sound. */
function checked(kept: Partial<PrintSettings>): PrintSettings {
  const { withChain, rounds, ringsOut, place } = kept;
  return {
    withChain: typeof withChain === 'boolean' ? withChain : USUAL.withChain,
    rounds: Number.isInteger(rounds) && rounds! >= 1 && rounds! <= MOST_ROUNDS ? rounds! : USUAL.rounds,
    ringsOut: typeof ringsOut === 'boolean' ? ringsOut : USUAL.ringsOut,
    place: PLACES.find((one) => one === place) ?? USUAL.place,
  };
}

/** Share of the work that rendering is; the rest is reading and putting it on the shelf. */
const RENDERING_SHARE = 0.6;

export const usePrinting = defineStore('printing', () => {
  const project = useProject();
  const session = useSession();
  const notices = useNotices();
  const work = useWork();
  const shelf = useShelf();
  const imports = useImports();
  const settings = useStorage<PrintSettings>('yappa.print', { ...USUAL }, undefined, { mergeDefaults: checked });

  /** Rendered, read and on the shelf. */
  async function printed(
    { document, part, name }: PrintSubject,
    wish: PrintSettings,
    onProgress: (share: number) => void,
    signal: AbortSignal,
  ): Promise<{ name: string; newCut: NewCut }> {
    const { lengthTicks } = printedLength(document, part, wish, ENGINE_SAMPLE_RATE);
    const plan = await planToBounce(printedDocument(document, part, wish));
    const rendering = (share: number) => onProgress(share * RENDERING_SHARE);
    const { file: rendered } = await bounceInWorker(
      { plan, lengthTicks, encoding: 'wav32', ringOut: wish.ringsOut, isUnmeasured: true },
      rendering,
      signal,
    );
    const file = new File([rendered!], `${safeFileName(name, 'printed')}.wav`, { type: 'audio/wav' });
    const reading = (share: number) => onProgress(RENDERING_SHARE + share * (1 - RENDERING_SHARE));
    const { source } = await library.importFile(file, {
      onProgress: reading,
      signal,
      origin: `printed from ${name}, ${document.name}`,
    });
    const { sourceId } = source;
    const { sampleRate, channels } = await library.load(sourceId);
    const frames = channels[0]!.length;
    const isSound = wish.place === 'key';
    const starts = isSound ? [0] : printedStarts(document, part, wish, sampleRate);
    const { markers, facts } = await library.cut(sourceId, { method: 'at', frames: starts });
    const newCut: NewCut = {
      source: { id: sourceId, name, sampleRate, channels: channels.length, frames },
      loop: isSound ? null : printedLoop(document, part, wish, sampleRate),
      tempoReadings: [],
      slices: foundSlices(markers, facts),
    };
    return { name, newCut };
  }

  function put(part: Part, place: PrintPlace, { name, newCut }: { name: string; newCut: NewCut }): void {
    const label = `print ${part.name}`;
    if (place === 'key') {
      if (project.run(label, addCut, { partId: part.id, ...newCut }))
        notices.info(`${name} lies on the next free key.`);
      return;
    }
    project.step(label, () => {
      const at = project.document!.partOrder.indexOf(part.id);
      if (!project.run('', addPart, { name, ...newCut, adoptTempo: false })) return;
      const order = project.document!.partOrder;
      const partId = order.at(-1)!;
      const by = at + 1 - (order.length - 1);
      if (by !== 0) project.run('', movePart, { partId, by });
      if (place === 'instead') project.run('', removePart, { partId: part.id });
      session.choosePart(partId);
    });
  }

  /** The part with what its pattern plays; or with a phrase in its place, which is played once and put down nowhere. */
  function subjectOf(part: Part, phrase: (PlayedPhrase & { name: string }) | null): PrintSubject | null {
    const { document } = project;
    if (!document) return null;
    const named = (what: string) => `${part.name}, ${what}`.slice(0, 200);
    if (!phrase) return { document, part, name: named(patternName(document, part)) };
    const { name, strips, lengthTicks } = phrase;
    const laid = layPattern(document, { partId: part.id, name, strips, lengthTicks }, COMMAND_ENV);
    if (!laid.ok) {
      notices.error(laid.reason);
      return null;
    }
    return { document: laid.document, part: laid.document.parts[part.id]!, name: named(name) };
  }

  /** @param phrase what is printed in place of the part's pattern */
  async function print(whole: Part, phrase: (PlayedPhrase & { name: string }) | null = null): Promise<void> {
    const subject = subjectOf(whole, phrase);
    if (!subject) return;
    const { document, part } = subject;
    const wish = { ...settings.value, rounds: phrase ? 1 : settings.value.rounds };
    const abort = new AbortController();
    const workId = work.begin({ kind: 'print', name: part.name, share: 0, cancel: () => abort.abort() });
    try {
      const made = await printed(subject, wish, (share) => work.update(workId, { share }), abort.signal);
      void shelf.refreshSourcesSoon().catch(() => undefined);
      // It belongs to the part that it was made of, and to no other project that was opened meanwhile.
      const now = project.document?.id === document.id ? project.document.parts[part.id] : undefined;
      if (now) put(now, wish.place, made);
      else notices.info(`${made.name} is on the shelf: its part is not there any more.`);
    } catch (error) {
      if (error instanceof AppError && error.code === 'cancelled') return;
      const words = describeFailure(`Printing ${part.name}`, error);
      notices.error(words);
      work.fail(words);
    } finally {
      work.end(workId);
    }
  }

  /** What was heard in the last minute becomes a part: a happy accident is had again. */
  async function printLast(): Promise<void> {
    const heard = withoutSilence(await engine.lastOutput(), ENGINE_SAMPLE_RATE);
    if (!heard) {
      notices.info('Nothing was heard in the last minute: play something first.');
      return;
    }
    const audio = { sampleRate: ENGINE_SAMPLE_RATE, channels: [heard.left, heard.right] };
    const at = new Date().toLocaleTimeString('en-GB').replaceAll(':', '.');
    const file = new File([writeWav(audio, { encoding: 'float32' })], `the mix at ${at}.wav`, { type: 'audio/wav' });
    const origin = `heard in ${project.document?.name ?? 'Yappa'}`;
    try {
      const { source, name } = await library.importFile(file, { origin });
      void shelf.refreshSourcesSoon().catch(() => undefined);
      if (project.document) await imports.addSource(source.sourceId, name);
    } catch (error) {
      notices.error(describeFailure('The last minute of the mix', error));
    }
  }

  return { settings, print, printLast };
});
