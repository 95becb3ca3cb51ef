// model: projects as they are in memory, version by version.
export { handOn, isOpen, letGo, mineOf, modelOf, openedSoon, type Model } from './models';
export { besideRows, besideStack, layerBeside, type Beside } from './beside';
export { findAhead } from './build';
export { keepFacts, type Wanted } from './facts';
export { stopReaders } from './readers';
