import { nearest } from '../links';
import { isEditable, isOn } from '../stack';
import { pathsOf } from './paths';
import { snagOfFile, type Rule } from './snag';

/** Files that are compared with a name that is not there. */
const MOST_COMPARED = 5000;

/** A file of a layer that is a patch of another, and does nothing. */
export const patchFile: Rule = {
	id: 'patch-file',
	title: 'Patch that does nothing',
	reads: ['files'],
	*find({ stack }) {
		for (const layer of stack.layers) {
			if (!isOn(layer)) continue;
			for (const { path, target, why, isThere, same } of layer.unapplied ?? []) {
				const paths = isThere ? null : pathsOf(stack);
				const [meant] = paths && paths.count <= MOST_COMPARED ? nearest(target, paths.all()) : [];
				const what = isThere ? `This patch of ${target}` : 'This patch';
				yield snagOfFile(
					layer,
					path,
					{
						rule: 'patch-file',
						severity: isEditable(layer) ? 'warns' : 'note',
						line: 1,
						message: `${what} ${same ? 'changes nothing' : 'does nothing'}. ${why}${meant === undefined ? '' : ` Did you mean “${meant}”?`}`
					},
					target
				);
			}
		}
	}
};
