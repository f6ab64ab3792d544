/** Inputs that can be captured: of the machine, of the stand-in box, of what Yappa plays itself. */
import { AppError } from '#core/units/errors.ts';
import { StandInBox } from '../devices/stand-in-box.ts';
import type { CaptureBlock } from '../workers/capture-protocol.ts';
import recorderUrl from '../worklets/recorder.worklet.ts?worker&url';
import type { EngineHost } from './engine-host.ts';

export type InputKind = 'device' | 'box' | 'own';

export interface InputChoice {
  kind: InputKind;
  /** Of a device, as the browser names it; '' for the one that it takes by itself. */
  deviceId: string;
}

/** As it comes: what a browser does for telephoning is of harm here (Media Capture and Streams, constraints of audio). */
const AS_IT_COMES = { echoCancellation: false, noiseSuppression: false, autoGainControl: false };

export class CaptureInput {
  box: StandInBox | null = null;
  private recorder: AudioWorkletNode | null = null;
  private source: AudioNode | null = null;
  private stream: MediaStream | null = null;
  private hasModule = false;

  constructor(private readonly engine: EngineHost) {}

  /**
   * Opens an input; its blocks come until it is closed.
   * @param onGone the input is there no more
   * @returns its rate
   * @throws AppError `input.refused`, `input.missing`
   */
  async open(
    { kind, deviceId }: InputChoice,
    onBlock: (block: CaptureBlock) => void,
    onGone: () => void,
  ): Promise<number> {
    await this.close();
    const { context, output } = await this.engine.graph();
    if (!this.hasModule) await context.audioWorklet.addModule(recorderUrl);
    this.hasModule = true;
    if (kind === 'device') this.source = await this.openDevice(context, deviceId, onGone);
    else if (kind === 'box') this.source = this.openBox(context);
    else this.source = output;
    const recorder = new AudioWorkletNode(context, 'recorder', { numberOfInputs: 1, numberOfOutputs: 0 });
    recorder.port.onmessage = ({ data }: MessageEvent<CaptureBlock | 'stopped'>) => {
      if (data !== 'stopped') onBlock(data);
    };
    this.source.connect(recorder);
    this.recorder = recorder;
    return context.sampleRate;
  }

  private async openDevice(context: AudioContext, deviceId: string, onGone: () => void): Promise<AudioNode> {
    // Where a page may not ask at all there is nothing to ask.
    const devices = (navigator as { mediaDevices?: MediaDevices }).mediaDevices;
    if (!devices)
      throw new AppError('input.missing', 'this page may not use inputs: open it over https or on localhost');
    try {
      const wanted = deviceId ? { deviceId: { exact: deviceId } } : {};
      this.stream = await devices.getUserMedia({ audio: { ...AS_IT_COMES, ...wanted } });
    } catch (error) {
      const isRefused = error instanceof DOMException && error.name === 'NotAllowedError';
      if (isRefused) throw new AppError('input.refused', 'the browser was not allowed to listen');
      throw new AppError('input.missing', 'this input is not there');
    }
    for (const track of this.stream.getTracks()) track.addEventListener('ended', onGone);
    return context.createMediaStreamSource(this.stream);
  }

  private openBox(context: AudioContext): AudioNode {
    this.box = new StandInBox(context);
    this.box.output.connect(context.destination);
    return this.box.output;
  }

  /** Something comes in beside it: of what is heard here alone there is no way in. */
  hearToo(node: AudioNode): void {
    if (this.recorder && !this.stream) node.connect(this.recorder);
  }

  /** What has come up to now is handed on first. */
  async close(): Promise<void> {
    const { recorder } = this;
    this.recorder = null;
    if (recorder) {
      const before = recorder.port.onmessage;
      await new Promise<void>((resolve) => {
        recorder.port.onmessage = (event: MessageEvent<CaptureBlock | 'stopped'>) => {
          if (event.data === 'stopped') resolve();
          else before?.call(recorder.port, event);
        };
        recorder.port.postMessage('stop');
      });
      this.source?.disconnect(recorder);
    }
    if (this.stream) {
      this.source?.disconnect();
      for (const track of this.stream.getTracks()) track.stop();
    }
    this.box?.close();
    this.box = null;
    this.stream = null;
    this.source = null;
  }
}
