export * from './bands';
export * from './rises';
export * from './sinc';
export * from './spectrum';
export * from './vocoder';
