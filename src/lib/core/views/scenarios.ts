import type { Compared, Estimate } from '../scenario';

/** A scenario of the guide, as it is offered. */
export interface ScenarioCard {
	name: string;
	title: string;
	asks: string | null;
	/** The command that would be run, word by word, with the places open; null for a formula. */
	command: string[] | null;
	/** Whether somebody on this machine has agreed to run it. */
	confirmed: boolean;
	formula: string | null;
	/** The kind of a formula, as it is shown; null where it is played. */
	kindTitle: string | null;
	inputs: {
		name: string;
		title: string;
		kind: string;
		/** A record that my mod changes, or the first; null where there is none. */
		record: { id: string; name: string } | null;
		/** Number fields of its kind, of which one can be swept. */
		fields: { path: string; title: string }[];
	}[];
}

/** An outcome of both sides, as it is shown. */
export interface ScenarioOutcome extends Compared {
	title: string;
	unit: string;
	better: 'more' | 'less' | null;
}

/** A field of a record that was put in, where it stands among its like. */
export interface ScenarioPlace {
	record: { kind: string; id: string; name: string };
	field: string;
	title: string;
	base: string;
	mine: string;
	/** Shares of its like with a smaller value, before and now. */
	ranks: [number, number] | null;
}

/** What one part of my mod does alone: mine less base, by the names of outcomes. */
export interface ScenarioPart {
	title: string;
	href: string;
	differences: Record<string, Estimate>;
}

/** The outcomes over values of one field. */
export interface ScenarioSweep {
	kind: string;
	id: string;
	field: string;
	title: string;
	base: number | null;
	mine: number | null;
	points: { value: number; means: Record<string, Estimate> }[];
}

export interface ScenarioRun {
	scenario: string;
	inputs: Record<string, { id: string; name: string }>;
	times: number;
	seed: number;
	state: 'running' | 'stopped' | 'done';
	/** Why it stopped, or what it does now. */
	said: string | null;
	played: number;
	/** Plays in all, as far as it is known. */
	all: number;
	milliseconds: number;
	outcomes: ScenarioOutcome[];
	/** Records of which a formula gives no number. */
	without: { id: string; why: string }[];
	places: ScenarioPlace[];
	parts: ScenarioPart[] | null;
	sweep: ScenarioSweep | null;
	/** The version of the project that was played. */
	version: number;
}

export interface ScenariosPage {
	slug: string;
	version: number;
	/** Whether the game can be started here. */
	ready: boolean;
	kinds: { kind: string; title: string }[];
	scenarios: ScenarioCard[];
	run: ScenarioRun | null;
}
