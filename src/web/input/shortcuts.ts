/** Every action that has a key: its words, its key, and changing it. Plain letters play slices, so no action uses one. */
import { reactive } from 'vue';

export type ActionId =
  | 'play'
  | 'undo'
  | 'redo'
  | 'remove'
  | 'next-slice'
  | 'previous-slice'
  | 'nudge-later'
  | 'nudge-earlier'
  | 'row-up'
  | 'row-down'
  | 'write'
  | 'split'
  | 'trim-start'
  | 'trim-end'
  | 'merge'
  | 'select-all'
  | 'loop-slice'
  | 'play-here'
  | 'lock'
  | 'reverse'
  | 'repeat'
  | 'hold'
  | 'deal'
  | 'hand-before'
  | 'compare-hands'
  | 'keep-treatment'
  | 'next-treatment'
  | 'compare-chain'
  | 'deal-chosen'
  | 'record'
  | 'copy-pattern'
  | 'copy-strips'
  | 'cut-strips'
  | 'paste-strips'
  | 'paste-in-place'
  | 'go-home'
  | 'keep-played'
  | 'write-down'
  | 'import-midi'
  | 'zoom-in'
  | 'zoom-out'
  | 'zoom-selection'
  | 'zoom-all'
  | 'grow-source'
  | 'grow-keys'
  | 'grow-pattern'
  | 'click'
  | 'tap'
  | 'octave-up'
  | 'octave-down'
  | 'harder'
  | 'softer'
  | 'sound-off'
  | 'learn-key'
  | 'keys-up'
  | 'keys-down'
  | 'taller'
  | 'flatter'
  | 'select-none'
  | 'copy-part'
  | 'print-part'
  | 'take-apart'
  | 'flat-pitch'
  | 'stand-in'
  | 'learn-controller'
  | 'add-sound'
  | 'go-bench'
  | 'go-shape'
  | 'go-order'
  | 'go-away'
  | 'go-shelf'
  | 'versions'
  | 'night'
  | 'details'
  | 'search'
  | 'help';

interface ActionInfo {
  words: string;
  key: string;
}

/** Keys are written as modifiers and the key's own name: "Ctrl+z", "Shift+ArrowRight". */
const DEFAULTS: Record<ActionId, ActionInfo> = {
  play: { words: 'Play or stop', key: 'Space' },
  undo: { words: 'Undo', key: 'Ctrl+z' },
  redo: { words: 'Redo', key: 'Ctrl+Shift+Z' },
  remove: { words: 'Remove what is selected', key: 'Delete' },
  'next-slice': { words: 'Next slice, and hear it', key: 'ArrowRight' },
  'previous-slice': { words: 'Slice before, and hear it', key: 'ArrowLeft' },
  'nudge-later': { words: 'Move later', key: 'Shift+ArrowRight' },
  'nudge-earlier': { words: 'Move earlier', key: 'Shift+ArrowLeft' },
  'row-up': { words: 'Strips to the sound or note above', key: 'Shift+ArrowUp' },
  'row-down': { words: 'Strips to the sound or note below', key: 'Shift+ArrowDown' },
  write: { words: 'Write strips into the rows with the pointer', key: 'Alt+w' },
  split: { words: 'New marker at the playhead', key: 'Enter' },
  'trim-start': { words: 'Trim the start to the playhead', key: '[' },
  'trim-end': { words: 'Trim the end to the playhead', key: ']' },
  merge: { words: 'Join the selected slices', key: 'Alt+j' },
  'select-all': { words: 'Select all slices', key: 'Ctrl+a' },
  'loop-slice': { words: 'Loop the selected slices', key: 'Alt+o' },
  'play-here': { words: 'Play the source from here', key: 'Alt+Enter' },
  lock: { words: 'Lock or unlock slices', key: 'Alt+l' },
  reverse: { words: 'Play backwards', key: 'Alt+b' },
  repeat: { words: 'One repeat more', key: 'Alt+r' },
  hold: { words: 'Hold steps when dealing', key: 'Alt+h' },
  deal: { words: 'Deal again', key: 'Alt+d' },
  'hand-before': { words: 'Back to the hand before', key: 'Alt+Shift+D' },
  'compare-hands': { words: 'Compare with the marked hand', key: 'Alt+x' },
  'keep-treatment': { words: 'Keep how the part sounds, as a treatment', key: 'Alt+Shift+Y' },
  'compare-chain': { words: 'Compare with no chain of effects', key: 'Alt+e' },
  'next-treatment': { words: 'Put the next treatment on', key: 'Alt+y' },
  'deal-chosen': { words: 'Deal the chosen strips alone', key: 'Alt+i' },
  record: { words: 'Record what is played on keys', key: 'Shift+Space' },
  'copy-strips': { words: 'Copy the chosen strips', key: 'Ctrl+c' },
  'cut-strips': { words: 'Take the chosen strips out, to put them down elsewhere', key: 'Ctrl+x' },
  'paste-strips': { words: 'Put copied strips down at the playhead, or after them', key: 'Ctrl+v' },
  'paste-in-place': { words: 'Put copied strips down where they were', key: 'Ctrl+Shift+V' },
  'go-home': { words: 'The chosen strips go home', key: 'Alt+g' },
  'keep-played': { words: 'Keep what I just played', key: 'Alt+p' },
  'write-down': { words: 'Write down what chord, runner and echoes have just played', key: 'Alt+Shift+P' },
  'import-midi': { words: 'A pattern from a MIDI file', key: '' },
  'copy-pattern': { words: 'Copy the pattern', key: 'Alt+c' },
  'zoom-in': { words: 'Closer', key: '+' },
  'zoom-out': { words: 'Wider', key: '-' },
  'zoom-selection': { words: 'Zoom to the selection', key: '.' },
  'zoom-all': { words: 'Show the whole source', key: '*' },
  'grow-source': { words: 'Source over the full height', key: 'F2' },
  'grow-keys': { words: 'Keys over the full height', key: 'F3' },
  'grow-pattern': { words: 'Pattern over the full height', key: 'F4' },
  click: { words: 'Click on or off', key: 'Alt+k' },
  tap: { words: 'Tap the tempo', key: 'Alt+t' },
  'octave-up': { words: 'Letters an octave higher', key: 'PageUp' },
  'octave-down': { words: 'Letters an octave lower', key: 'PageDown' },
  harder: { words: 'Letters strike harder', key: 'Alt+PageUp' },
  softer: { words: 'Letters strike softer', key: 'Alt+PageDown' },
  'sound-off': { words: 'All sound off', key: 'Alt+m' },
  'learn-key': { words: 'Lay on the key that is pressed next', key: 'Alt+n' },
  'keys-up': { words: 'Move a key higher', key: 'Alt+ArrowRight' },
  'keys-down': { words: 'Move a key lower', key: 'Alt+ArrowLeft' },
  taller: { words: 'Draw the sound taller', key: 'Ctrl+ArrowUp' },
  flatter: { words: 'Draw the sound flatter', key: 'Ctrl+ArrowDown' },
  'select-none': { words: 'Select nothing', key: 'Escape' },
  'copy-part': { words: 'This part once more', key: '' },
  'print-part': { words: 'Print this part: what it plays becomes a sound', key: 'Alt+u' },
  'take-apart': { words: 'What is in the chosen slice', key: 'Alt+a' },
  'flat-pitch': { words: 'Make the pitch of the chosen sound flat', key: 'Alt+q' },
  'stand-in': { words: 'The stand-in controller', key: 'Alt+s' },
  'learn-controller': { words: 'Learn what a controller moves', key: 'Alt+z' },
  'add-sound': { words: 'Add a sound from a file', key: '' },
  'go-bench': { words: 'To the bench', key: 'Alt+1' },
  'go-shape': { words: 'To Shape', key: 'Alt+2' },
  'go-order': { words: 'To the running order', key: 'Alt+3' },
  'go-away': { words: 'Take away: mix, slices, source', key: 'Alt+4' },
  'go-shelf': { words: 'To the shelf', key: 'Alt+5' },
  versions: { words: 'Earlier versions of this project', key: '' },
  night: { words: 'Day or night', key: '' },
  details: { words: 'Show or hide the details', key: 'F9' },
  search: { words: 'Find a command', key: '/' },
  help: { words: 'All shortcuts', key: '?' },
};

const STORAGE_KEY = 'yappa.shortcuts';

function stored(): Partial<Record<ActionId, string>> {
  try {
    return JSON.parse(localStorage.getItem(STORAGE_KEY) ?? '{}') as Partial<Record<ActionId, string>>;
  } catch {
    return {};
  }
}

/** Key of each action, as the user has set it. */
export const shortcuts = reactive(
  Object.fromEntries(Object.entries({ ...mapValues(DEFAULTS, (info) => info.key), ...stored() })) as Record<
    ActionId,
    string
  >,
);

function mapValues<K extends string, A, B>(record: Record<K, A>, change: (value: A) => B): Record<K, B> {
  return Object.fromEntries(Object.entries<A>(record).map(([key, value]) => [key, change(value)])) as Record<K, B>;
}

export const ACTION_IDS = Object.keys(DEFAULTS) as ActionId[];

export function actionWords(action: ActionId): string {
  return DEFAULTS[action].words;
}

/** Gives an action another key; an action that had that key loses it. */
export function setShortcut(action: ActionId, key: string): void {
  for (const other of ACTION_IDS) if (other !== action && shortcuts[other] === key) shortcuts[other] = '';
  shortcuts[action] = key;
  localStorage.setItem(STORAGE_KEY, JSON.stringify(shortcuts));
}

export function resetShortcuts(): void {
  Object.assign(
    shortcuts,
    mapValues(DEFAULTS, (info) => info.key),
  );
  localStorage.removeItem(STORAGE_KEY);
}

/** How a key event is written; null for a modifier alone. */
export function keyOf(event: KeyboardEvent): string | null {
  if (['Control', 'Shift', 'Alt', 'Meta'].includes(event.key)) return null;
  const name = event.key === ' ' ? 'Space' : event.key;
  const isSymbol = name.length === 1 && !/[a-z0-9]/i.test(name);
  const modifiers = [
    event.ctrlKey || event.metaKey ? 'Ctrl+' : '',
    event.altKey ? 'Alt+' : '',
    event.shiftKey && !isSymbol ? 'Shift+' : '',
  ];
  return modifiers.join('') + name;
}

/** The action of a key event. */
export function actionOf(event: KeyboardEvent): ActionId | null {
  const key = keyOf(event);
  return (key && ACTION_IDS.find((action) => shortcuts[action] === key)) || null;
}

/** Words for a tooltip: what it does and its key. */
export function tip(action: ActionId, words = DEFAULTS[action].words): string {
  return shortcuts[action] ? `${words} (${shortcuts[action]})` : words;
}

/** Input types that take no letters. */
const UNTYPED = ['checkbox', 'radio', 'range', 'button'];

/** Is the user typing into a field, so that keys are letters? A field that only shows its number takes none. */
export function isTyping(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null;
  if (!target) return false;
  if (target.isContentEditable || target.tagName === 'TEXTAREA') return true;
  if (!(target instanceof HTMLInputElement) || UNTYPED.includes(target.type)) return false;
  // A menu of choices takes letters to find one, though its field is not typed into.
  const isMenu = target.inputMode === 'none';
  const hasModifier = event.ctrlKey || event.metaKey || event.altKey;
  return isMenu ? !hasModifier : !target.readOnly;
}

/** What Enter and Space press when it has been reached with the Tab key. */
const PRESSABLE =
  'button, a, [role="button"], [role="tab"], [role="checkbox"], [role="menuitem"], input[type="checkbox"]';

/** Somebody moves about with the Tab key: what has the focus was gone to, and not just clicked. */
let movesByKeyboard = false;
if (typeof window !== 'undefined') {
  window.addEventListener('pointerdown', () => (movesByKeyboard = false), { capture: true, passive: true });
  window.addEventListener('keydown', ({ key }) => (movesByKeyboard ||= key === 'Tab'), {
    capture: true,
    passive: true,
  });
}

/** Does somebody move about with the keyboard, so that what has the focus is to keep it? */
export function isByKeyboard(): boolean {
  return movesByKeyboard;
}

/** Would this key press the control that it goes to, for somebody who moves about with the keyboard? */
export function pressesControl(event: KeyboardEvent): boolean {
  if (!movesByKeyboard || (event.key !== 'Enter' && event.key !== ' ')) return false;
  return (event.target as HTMLElement | null)?.matches(PRESSABLE) ?? false;
}
