import { identityFor } from '$lib/server/identity';
import { spoiledBy } from '$core/guide';
import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { packed } from '$lib/server/trial';

export const load = ({ params }) =>
	show(async () => {
		const model = await modelOf(params.project);
		const {
			pack: { files },
			programs
		} = await packed(model);
		const mine = model.stack.mine;
		const counts = new Map(
			[...(mine?.files.values() ?? [])].map((file) => [file.path, file.facts?.count ?? 0])
		);
		return {
			files: files.map((file) => ({ ...file, records: counts.get(file.path) ?? 0 })),
			programs,
			identity: identityFor(model),
			mine: mine?.id ?? '',
			spoiled: spoiledBy(
				model.stack.guide,
				files.map(({ path }) => path)
			)
		};
	});
