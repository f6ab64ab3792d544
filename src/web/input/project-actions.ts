/** What every place of an open project can do, whichever hand asks for it. */
import { setValue } from '#core/project/commands/values.ts';
import { songValues } from '#core/queries/values.ts';
import { notes } from '../audio/services.ts';
import { router } from '../router.ts';
import { useActions } from '../stores/frame/actions.ts';
import { useDialogs } from '../stores/frame/dialogs.ts';
import { useEditing } from '../stores/document/editing.ts';
import { useLaying } from '../stores/keys/laying.ts';
import { useMarkers } from '../stores/source/markers.ts';
import { usePreview } from '../stores/sound/preview.ts';
import { useProject } from '../stores/document/project.ts';
import { useSession } from '../stores/document/session.ts';
import { useRecording } from '../stores/sound/recording.ts';
import { useDealing } from '../stores/pattern/dealing.ts';
import { useStripEdits } from '../stores/pattern/strip-edits.ts';
import { useSwitching } from '../stores/keys/switching.ts';
import { useTapping } from '../stores/sound/tapping.ts';
import { useTreating } from '../stores/sound/treating.ts';
import { useTyping } from '../stores/keys/typing.ts';
import { useTransport } from '../stores/sound/transport.ts';
import { wholeWindow, zoomAt, zoomTo } from '../canvas/view-window.ts';

/** Offers them as long as the calling component lives. */
export function offerProjectActions(): void {
  const project = useProject();
  const session = useSession();
  const transport = useTransport();
  const editing = useEditing();
  const markers = useMarkers();
  const preview = usePreview();
  const tapping = useTapping();
  const treating = useTreating();
  const actions = useActions();
  const laying = useLaying();
  const typing = useTyping();
  const strips = useStripEdits();
  const dealing = useDealing();
  const recording = useRecording();
  // Listens to keys that play no sound.
  useSwitching();

  function zoom(factor: number): void {
    const frames = session.loaded?.channels[0]?.length;
    if (frames) session.sourceWindow = zoomAt(session.sourceWindow ?? wholeWindow(frames), factor, 0.5, 1, frames);
  }

  function zoomToSelection(): void {
    const chosen = session.selectedSlices;
    const frames = session.loaded?.channels[0]?.length;
    if (chosen.length === 0 || !frames) return;
    session.sourceWindow = zoomTo(
      Math.min(...chosen.map((at) => at.startFrame)),
      Math.max(...chosen.map((at) => at.endFrame)),
      frames,
    );
  }

  /** Chooses the neighbour of the selected slice and plays it. */
  function stepSlice(by: 1 | -1): void {
    const { placed, selectedSlices } = session;
    if (placed.length === 0) return;
    const from = selectedSlices[0]?.index ?? (by === 1 ? -1 : placed.length);
    const next = placed[Math.max(0, Math.min(placed.length - 1, from + by))]!;
    session.selectSlices([next.slice.id]);
    const zone = session.zoneBySlice.get(next.slice.id)?.zone;
    if (zone) transport.playZone(zone.id);
  }

  function nudge(by: 1 | -1): void {
    if (session.eventIds.length > 0) editing.nudgeEvents(by);
    else markers.nudge(by);
  }

  function playFromHere(): void {
    const at = session.selectedSlices[0];
    if (at && session.cut) void preview.playRange(session.cut.sourceId, at.startFrame, null, false);
  }

  function toggleClick(): void {
    if (!project.document) return;
    const to = !songValues(project.document).clickOn;
    project.run('click', setValue, { owners: [{ kind: 'song' }], param: 'clickOn', change: { to } });
  }

  /** To a band, over the full height: on the bench, wherever one is. */
  async function grow(band: 'source' | 'keys' | 'pattern'): Promise<void> {
    const isThere = router.currentRoute.value.name === 'bench';
    if (!isThere) await router.push(`/bench/${project.document!.id}`);
    if (isThere || session.grownBand !== band) session.toggleBand(band);
  }

  actions.offer({
    play: () => transport.toggle(),
    undo: () => project.undo(),
    redo: () => project.redo(),
    remove: () => editing.removeSelected(),
    'next-slice': () => stepSlice(1),
    'previous-slice': () => stepSlice(-1),
    'nudge-later': () => nudge(1),
    'nudge-earlier': () => nudge(-1),
    'row-up': () => strips.moveRow(-1),
    'row-down': () => strips.moveRow(1),
    write: () => {
      strips.isWriting = !strips.isWriting;
    },
    split: () => markers.addHere(),
    'trim-start': () => markers.trimHere('start'),
    'trim-end': () => markers.trimHere('end'),
    merge: () => editing.mergeSelected(),
    'select-all': () => session.selectSlices(session.placed.map((at) => at.slice.id)),
    'select-none': () => {
      if (!laying.giveUp()) session.selectSlices([]);
    },
    'octave-up': () => typing.moveOctave(1),
    'octave-down': () => typing.moveOctave(-1),
    harder: () => typing.moveStrength(1),
    softer: () => typing.moveStrength(-1),
    'sound-off': () => notes.allSoundOff(),
    'learn-key': () => laying.learn(),
    'keys-up': () => laying.move(1),
    'keys-down': () => laying.move(-1),
    'loop-slice': () => editing.loopSelected(),
    'play-here': playFromHere,
    lock: () => editing.lockSelected(),
    reverse: () => editing.reverseSelected(),
    repeat: () => editing.repeatSelected(),
    hold: () => editing.holdSelected(),
    deal: () => dealing.again(),
    'hand-before': () => dealing.before(),
    'compare-hands': () => dealing.compare(),
    'deal-chosen': () => dealing.chosenAgain(),
    'keep-treatment': () => {
      if (session.part) treating.keep(session.part.id);
    },
    'next-treatment': () => {
      if (session.part) treating.putNextOn(session.part);
    },
    // Fetched when it is wanted for the first time: Shape has it.
    'compare-chain': () => void import('../stores/sound/chain.ts').then(({ useChain }) => useChain().compare()),
    record: () => void recording.toggle(),
    'copy-strips': () => strips.copy(),
    'cut-strips': () => strips.cut(),
    'paste-strips': () => strips.paste(false),
    'paste-in-place': () => strips.paste(true),
    'go-home': () => strips.home(),
    // Fetched when it is wanted for the first time.
    'keep-played': () =>
      void import('../stores/pattern/phrases.ts').then(({ usePhrases }) => usePhrases().keepPlayed()),
    'write-down': () => void import('../stores/pattern/phrases.ts').then(({ usePhrases }) => usePhrases().writeDown()),
    'copy-pattern': () => editing.copyCurrentPattern(),
    'copy-part': async () => {
      const { duplicatePart } = await import('#core/project/commands/copy-part.ts');
      if (session.part) project.run('copy a part', duplicatePart, { partId: session.part.id });
    },
    'print-part': () => (useDialogs().printPartId = session.part?.id ?? null),
    'take-apart': () => {
      const [slice] = session.selectedSlices;
      if (slice) void import('../stores/source/apart.ts').then(({ useApart }) => useApart().open(slice));
    },
    'flat-pitch': () => (useDialogs().flatZoneId = session.selectedZones[0]?.zone.id ?? null),
    'zoom-in': () => zoom(1.6),
    'zoom-out': () => zoom(1 / 1.6),
    'zoom-selection': zoomToSelection,
    'zoom-all': () => session.seeWhole(),
    taller: () => session.stretchHeight(1.5),
    flatter: () => session.stretchHeight(1 / 1.5),
    'grow-source': () => void grow('source'),
    'grow-keys': () => void grow('keys'),
    'grow-pattern': () => void grow('pattern'),
    click: toggleClick,
    tap: () => tapping.tap(),
    'go-bench': () => void router.push(`/bench/${project.document!.id}`),
    'go-shape': () => void router.push(`/shape/${project.document!.id}`),
    'go-order': () => void router.push(`/order/${project.document!.id}`),
    'go-away': () => void router.push(`/away/${project.document!.id}`),
  });
}
