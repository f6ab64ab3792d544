/** Hands on what comes in, block by block, with the frame of the audio clock at which each began: none is ever left out. */
const BLOCK_FRAMES = 1024;

class RecorderProcessor extends AudioWorkletProcessor {
  private left = new Float32Array(BLOCK_FRAMES);
  private right = new Float32Array(BLOCK_FRAMES);
  private filled = 0;
  private startFrame = 0;
  private isOn = true;

  constructor() {
    super();
    this.port.onmessage = ({ data }: MessageEvent<'stop'>) => {
      if (data !== 'stop') return;
      this.flush();
      this.port.postMessage('stopped');
      this.isOn = false;
    };
  }

  override process(inputs: Float32Array[][]): boolean {
    const [left, right = left] = inputs[0] ?? [];
    if (this.filled === 0) this.startFrame = currentFrame;
    // An input that has nothing to give is silent.
    for (let i = 0; i < 128; i++) {
      this.left[this.filled + i] = left?.[i] ?? 0;
      this.right[this.filled + i] = right?.[i] ?? 0;
    }
    this.filled += 128;
    if (this.filled >= BLOCK_FRAMES) this.flush();
    return this.isOn;
  }

  private flush(): void {
    if (this.filled === 0) return;
    const left = this.left.slice(0, this.filled);
    const right = this.right.slice(0, this.filled);
    this.port.postMessage({ left, right, startFrame: this.startFrame }, [left.buffer, right.buffer]);
    this.filled = 0;
  }
}

registerProcessor('recorder', RecorderProcessor);
