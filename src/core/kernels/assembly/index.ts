export * from './bands';
export * from './resample';
export * from './rises';
export * from './sinc';
export * from './spectrum';
export * from './vocoder';
