// What my mod says of the game's data: each record that its files hold or take away, as the layers below have it and as it is with my mod.
import { buildStack, isEditable, type EffectiveRecord, type Layer, type Stack } from '../stack';

/** A record that my mod holds, or takes away. */
export interface MyRecord {
	kind: string;
	id: string;
	/** As the layers below have it; undefined where they have none. */
	was: EffectiveRecord | undefined;
	/** As it is with my mod; undefined where that takes it away. */
	is: EffectiveRecord | undefined;
}

/** The layers with my mod empty. */
export const withoutMine = ({ layers, guide, pool }: Stack): Stack =>
	buildStack(
		layers.map((layer): Layer => (isEditable(layer) ? { ...layer, files: new Map() } : layer)),
		guide,
		pool
	);

/** All records that my mod holds or takes away. @param below the layers without it */
export function* myRecords(stack: Stack, below: Stack): Generator<MyRecord> {
	for (const [kind, table] of stack.tables) {
		const under = below.tables.get(kind)!;
		const own = new Set<number>();
		table.files.forEach(({ layer, file }, nth) => {
			// What a patch of mine makes of a file is carried with the patch.
			if (isEditable(layer) && !file.patched)
				for (const row of table.rows.rowsOf[nth]!) if (row >= 0) own.add(row);
		});
		for (const row of own) {
			const is = table.record(row);
			yield { kind, id: is.id, was: under.byId.get(is.id), is };
		}
		const takes =
			table.hidden.length > 0 || table.removals.length > 0 || table.files.some(({ gone }) => gone?.length);
		if (!takes) continue;
		for (let row = 0; row < under.count; row++) {
			const was = under.record(row);
			if (!table.byId.has(was.id)) yield { kind, id: was.id, was, is: undefined };
		}
	}
}

/** The values of a record by path, or of a text by language. */
export const valuesIn = (record: EffectiveRecord | undefined): Map<string, string> =>
	new Map(record ? [...record.values].map(([path, { value }]) => [path, value]) : []);
