/** Bytes that come piece by piece, kept as blobs: those the browser may lay on the disk. */
const PIECE_BYTES = 4_000_000;

export class BlobWriter {
  private readonly parts: Blob[] = [];
  private waiting: Uint8Array<ArrayBuffer>[] = [];
  private waitingBytes = 0;

  readonly write = (bytes: Uint8Array<ArrayBuffer>): void => {
    if (bytes.length === 0) return;
    this.waiting.push(bytes);
    this.waitingBytes += bytes.length;
    if (this.waitingBytes >= PIECE_BYTES) this.lay();
  };

  private lay(): void {
    this.parts.push(new Blob(this.waiting));
    this.waiting = [];
    this.waitingBytes = 0;
  }

  /** @param head what goes before all that was written */
  finish(type: string, head?: Uint8Array<ArrayBuffer>): Blob {
    this.lay();
    return new Blob([...(head ? [head] : []), ...this.parts], { type });
  }
}
