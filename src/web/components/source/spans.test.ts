import { describe, expect, it } from 'vitest';
import { sourceBox } from './source-box.ts';
import { barSpans, spanEndAt, type Span } from './spans.ts';

const size = { width: 1_000, height: 200 };
const window = { startFrame: 0, endFrame: 10_000 };
const loop: Span = { kind: 'loop', startFrame: 1_000, endFrame: 9_000 };
const sound: Span = { kind: 'sound', startFrame: 1_050, endFrame: 3_000 };
const foot = sourceBox(size.height).skylineBottom - 5;

describe('the end of a loop under the pointer', () => {
  it('is that of the cut along the ruler, and that of the sound at the foot of its skyline', () => {
    const at = (x: number, y: number) => spanEndAt([loop, sound], window, size, { x, y });
    expect(at(103, 8)).toEqual({ span: loop, side: 'startFrame' });
    expect(at(896, 8)).toEqual({ span: loop, side: 'endFrame' });
    expect(at(103, foot)).toEqual({ span: sound, side: 'startFrame' });
    expect(at(301, foot)).toEqual({ span: sound, side: 'endFrame' });
    expect(at(103, 60)).toBeNull();
    expect(at(500, 8)).toBeNull();
  });

  it('or a bar line of its own between them, as the bar that begins there', () => {
    const bars = barSpans({ barFrames: [3_000, 6_000] });
    const at = (x: number, y: number) => spanEndAt([loop, ...bars], window, size, { x, y });
    expect(at(303, 8)?.span).toEqual({ kind: 'bar', startFrame: 3_000, endFrame: 3_000, bar: 1 });
    expect(at(598, 8)?.span.bar).toBe(2);
    expect(at(303, foot)).toBeNull();
    expect(barSpans({})).toEqual([]);
  });

  it('is the nearer one where both are in reach, and none where there is no ruler', () => {
    const short: Span = { ...loop, endFrame: 1_080 };
    expect(spanEndAt([short], window, size, { x: 106, y: 8 })?.side).toBe('endFrame');
    expect(spanEndAt([loop], window, { ...size, height: 90 }, { x: 100, y: 8 })).toBeNull();
  });
});
