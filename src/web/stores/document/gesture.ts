/** A drag or knob turn while it lasts: it always ends once, whatever happens to the pointer, and is one step. */
import type { Command } from '#core/project/commands/command.ts';

interface Ends {
  commit: (joins?: string) => void;
  cancel: () => void;
  /** What was done so far is a step of its own. */
  split: () => void;
  /** The document is as it was when the gesture began: what comes next is told from there. */
  rewind: () => void;
  /** Runs a command on the document as it was when the gesture began. */
  replay: <Args>(command: Command<Args>, args: Args) => void;
}

export class Gesture {
  /** False once it was committed or cancelled, by whomever: what its owner still does is not meant any more. */
  isOpen = true;

  constructor(
    readonly label: string,
    private readonly ends: Ends,
  ) {}

  /** @param joins names what may still join this step: what is worked out only when the hand has let go */
  commit(joins?: string): void {
    if (!this.isOpen) return;
    this.isOpen = false;
    this.ends.commit(joins);
  }

  cancel(): void {
    if (!this.isOpen) return;
    this.isOpen = false;
    this.ends.cancel();
  }

  /** What was done in it so far is a step of its own; it goes on. */
  split(): void {
    if (this.isOpen) this.ends.split();
  }

  /** Takes back what was done in it so far; it goes on. */
  rewind(): void {
    if (this.isOpen) this.ends.rewind();
  }

  /** Runs a command as if the gesture had just begun: for changes that are told from its start. */
  replay<Args>(command: Command<Args>, args: Args): void {
    if (this.isOpen) this.ends.replay(command, args);
  }
}
