import type { LayerFile } from './files';
import type { Unapplied } from './patched';

/** Whose a layer is: the game's own data, somebody else's, or mine. */
export type LayerOwner = 'game' | 'others' | 'me';

/** One tree of files in the stack. */
export interface Layer {
	id: string;
	title: string;
	owner: LayerOwner;
	/** Whether it counts; it does where nothing is said. */
	on?: boolean | undefined;
	/** The option of its mod that it is; without one it is always there. */
	option?: string | undefined;
	/** Its files by path, also those that its patches make of files below. */
	files: ReadonlyMap<string, LayerFile>;
	/** Patch files of it that do nothing. */
	unapplied?: readonly Unapplied[] | undefined;
	/** All paths of the layer, where some files are known by their digest alone. */
	paths?: ReadonlySet<string> | undefined;
	/** Of my mod: values that came along with copies from a version of the base that is no longer the one in use. */
	copied?: readonly { kind: string; record: string; field: string; value: string }[] | undefined;
}

/** Whether a layer is edited: every other one is only read. */
export const isEditable = (layer: Pick<Layer, 'owner'> | undefined): boolean => layer?.owner === 'me';

/** Whether a layer is the game itself: what it does is never wrong. */
export const isGame = (layer: Pick<Layer, 'owner'> | undefined): boolean => layer?.owner === 'game';

/** Whether a layer counts. */
export const isOn = ({ on }: Pick<Layer, 'on'>): boolean => on !== false;
