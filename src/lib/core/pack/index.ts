// pack: what will be written to be installed, why each file is there, and the archive; the same input gives the same bytes.
export { changeList, isShared, readMe, SHARED, sharedTexts, TEMPLATE, type Shared } from './share';
export { tablePictures, type TablePicture } from './pictures';
export { packOf, zipOf, type Pack, type PackFile, type Why } from './pack';
export { testingPack } from './testing';
