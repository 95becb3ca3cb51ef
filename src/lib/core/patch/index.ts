// patch: changes to files of others, kept apart from them, and put where they belong in another version of the file.
export { applyPatch, type Choices, type FileResult, type PartResult, type PatchResult } from './apply';
export { printPatch, readPatch } from './file';
export { filePatch } from './make';
export { PatchFault, type FilePatch, type Patch } from './parts';
