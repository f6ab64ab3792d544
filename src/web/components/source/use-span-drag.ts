/** The loops that can be seen in a source, and their ends dragged: each drag is one step. */
import { computed, type Ref } from 'vue';
import { setLoop } from '#core/project/commands/parts.ts';
import { setZoneLoop } from '#core/project/commands/zones.ts';
import { zoneValues } from '#core/queries/values.ts';
import { withBarLine } from '#core/units/loop-time.ts';
import { xToFrame, type ViewWindow } from '../../canvas/view-window.ts';
import { followPointer, localPoint } from '../../canvas/use-drag.ts';
import { useMarkers } from '../../stores/source/markers.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { barSpans, spanEndAt, type Span, type SpanSide } from './spans.ts';

export function useSpanDrag(viewed: Ref<ViewWindow>, canvas: Ref<HTMLCanvasElement | null>) {
  const project = useProject();
  const session = useSession();
  const markers = useMarkers();

  /** The one chosen sound, if something goes round in it. */
  const round = computed(() => {
    const [placed, ...others] = session.selectedZones;
    if (!placed || others.length > 0 || placed.cut.id !== session.cut?.id || placed.zone.plays.kind !== 'slice')
      return null;
    return zoneValues(placed.zone).loopMode === 'off' ? null : placed;
  });

  const spans = computed<Span[]>(() => {
    const { cut } = session;
    const found: Span[] = cut?.loop ? [{ kind: 'loop', ...cut.loop }] : [];
    if (cut?.loop) found.push(...barSpans(cut.loop));
    if (round.value) found.push({ kind: 'sound', ...round.value.at, ...round.value.zone.loop });
    return found;
  });

  function endNear(event: PointerEvent): { span: Span; side: SpanSide } | null {
    const { clientWidth: width, clientHeight: height } = canvas.value!;
    return spanEndAt(spans.value, viewed.value, { width, height }, localPoint(event, canvas.value!));
  }

  function put({ kind, bar }: Span, side: SpanSide, frame: number, label = '', joins?: string): void {
    const { cut, source } = session;
    if (!cut || !source) return;
    const at = Math.round(Math.max(0, Math.min(source.frames, frame)));
    if (kind === 'loop') {
      const { startFrame, endFrame } = cut.loop!;
      const within = side === 'startFrame' ? Math.min(at, endFrame - 1) : Math.max(at, startFrame + 1);
      project.run(label, setLoop, { cutId: cut.id, loop: { [side]: within } }, joins);
      return;
    }
    if (kind === 'bar') {
      const moved = withBarLine(cut.loop!, bar!, at);
      if (moved) project.run(label, setLoop, { cutId: cut.id, loop: { barFrames: moved.barFrames } }, joins);
      return;
    }
    const placed = round.value;
    if (!placed) return;
    const usual = { ...placed.at, crossfadeFrames: Math.round(0.005 * source.sampleRate) };
    const { startFrame, endFrame, crossfadeFrames } = placed.zone.loop ?? usual;
    const inside = Math.max(placed.at.startFrame, Math.min(placed.at.endFrame, at));
    const loop = { startFrame, endFrame, crossfadeFrames };
    loop[side] = side === 'startFrame' ? Math.min(inside, endFrame - 1) : Math.max(inside, startFrame + 1);
    project.run(label, setZoneLoop, { zoneId: placed.zone.id, loop }, joins);
  }

  function wordsOf({ kind, bar }: Span, side: SpanSide): string {
    if (kind === 'bar') return `start of bar ${bar! + 1}`;
    return `${side === 'startFrame' ? 'start' : 'end'} of the ${kind === 'loop' ? 'loop' : 'sound’s loop'}`;
  }

  /** Drags the end under the pointer; let go it snaps as markers do, with Alt it stays where it is. */
  function dragSpan(event: PointerEvent): void {
    const element = canvas.value!;
    const { span, side } = endNear(event)!;
    const cutId = session.cut!.id;
    // What is looked at stays, while it is dragged in.
    const window = viewed.value;
    const gesture = project.begin(wordsOf(span, side));
    let frame = span[side];
    let free = event.altKey;
    followPointer(event, {
      move: (moved) => {
        if (!gesture?.isOpen) return;
        free = moved.altKey;
        frame = xToFrame(window, localPoint(moved, element).x, element.clientWidth);
        put(span, side, frame);
      },
      end: (moved) => {
        if (!moved || free || !gesture) gesture?.commit();
        else
          void markers.commitAndSnap(gesture, async () => {
            const snapped = await markers.snappedTo(frame, span.kind === 'sound');
            return (label, joins) => {
              // Another sound may be looked at by now.
              if (session.cut?.id === cutId) put(span, side, snapped, label, joins);
            };
          });
      },
      cancel: () => gesture?.cancel(),
    });
  }

  return { spans, endNear, dragSpan };
}
