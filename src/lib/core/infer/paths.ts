// The parts of a path: its folder, its file name, that without its ending, and the ending with its dot.
export const folderOf = (path: string) => path.slice(0, Math.max(0, path.lastIndexOf('/')));
export const fileNameOf = (path: string) => path.slice(path.lastIndexOf('/') + 1);
export const stemOf = (path: string) => fileNameOf(path).replace(/\.[^.]*$/, '');
export const endingOf = (path: string) => fileNameOf(path).slice(stemOf(path).length);
