/**
 * Much that has to be built at once is built piece by piece, one in each frame of the screen: a place opens without
 * holding the page up, and what is heard and pressed meanwhile is not kept waiting.
 */
type Turn = () => void;

const waiting: Turn[] = [];
let isRunning = false;

function next(): void {
  waiting.shift()?.();
  if (waiting.length > 0) requestAnimationFrame(next);
  else isRunning = false;
}

/** Calls back when it is this piece's turn. @returns gives the turn up */
export function takeTurn(turn: Turn): () => void {
  waiting.push(turn);
  if (!isRunning) {
    isRunning = true;
    requestAnimationFrame(next);
  }
  return () => {
    const place = waiting.indexOf(turn);
    if (place >= 0) waiting.splice(place, 1);
  };
}
