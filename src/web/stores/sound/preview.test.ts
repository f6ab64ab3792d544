// @vitest-environment happy-dom
import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import type { EngineStatus, ToEngine } from '#core/engine/messages.ts';
import { engine, library } from '../../audio/services.ts';
import { usePreview } from './preview.ts';

let tell: (status: Partial<EngineStatus>) => void;
let sent: Extract<ToEngine, { type: 'preview' }>[];

beforeEach(() => {
  setActivePinia(createPinia());
  sent = [];
  vi.spyOn(engine, 'resume').mockResolvedValue();
  vi.spyOn(engine, 'send').mockImplementation((message) => {
    if (message.type === 'preview') sent.push(message);
  });
  vi.spyOn(engine, 'onStatus').mockImplementation((listener) => {
    tell = (status) => listener({ ...engine.status, ...status });
    return () => undefined;
  });
  const load = (sourceId: string) =>
    Promise.resolve({ sourceId, sampleRate: 44100, channels: [new Float32Array(10)] } as never);
  vi.spyOn(library, 'load').mockImplementation(load);
});
afterEach(() => {
  vi.restoreAllMocks();
});

it('a preview is on until the engine says that it has ended, however late it says that it began', async () => {
  const preview = usePreview();
  await preview.preview('a');
  // Of before it: a busy audio thread tells for a long time what was.
  vi.spyOn(performance, 'now').mockReturnValue(performance.now() + 5000);
  tell({ previewing: false, previewOrder: 0 });
  expect(preview.previewId).toBe('a');
  tell({ previewing: true, previewOrder: sent[0]!.previewOrder });
  expect(preview.previewId).toBe('a');
  tell({ previewing: false, previewOrder: sent[0]!.previewOrder });
  expect(preview.previewId).toBeNull();
});

it('the end of the one before is not the end of the one that was asked for since', async () => {
  const preview = usePreview();
  await preview.preview('a');
  await preview.preview('b');
  tell({ previewing: false, previewOrder: sent[0]!.previewOrder });
  expect(preview.previewId).toBe('b');
  tell({ previewing: false, previewOrder: sent[1]!.previewOrder });
  expect(preview.previewId).toBeNull();
});
