// The little that is known of a record everywhere.

export interface Named {
	kind: string;
	id: string;
	name: string;
}
