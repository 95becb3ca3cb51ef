import { inOneGo } from '../gather';
import { buildLinks, type Links } from '../links';
import type { Stack } from '../stack';
import { withoutBase } from './base';
import { heldTwice } from './held-twice';
import { idElsewhere } from './id-elsewhere';
import { missingField } from './missing-field';
import { incompleteRecord } from './incomplete-record';
import { missingPart } from './missing-part';
import { wrongCounter } from './wrong-counter';
import { outOfOrder } from './out-of-order';
import { twinsApart } from './twins-apart';
import { scriptLoads } from './script-loads';
import { scriptNames } from './script-names';
import { overlaps } from './overlaps';
import { missingAsset } from './missing-asset';
import { withoutEffect } from './without-effect';
import { inTheGround, leadsNowhere, neverReached, offTheMap, onTop } from './on-the-map';
import { overBudget } from './over-budget';
import { againstTerm, oddLetter, oddQuotes, openTag, sameText, textCase } from './text-habits';
import { cutOff, pluralForms, unusedText } from './text-drawn';
import { textLanguage } from './text-language';
import { tooExact } from './too-exact';
import { unknownWord } from './unknown-word';
import { unusualValue } from './unusual-value';
import { endlessChain } from './endless-chain';
import { duplicateId } from './duplicate-id';
import { hardLimit } from './hard-limit';
import { missingFile } from './missing-file';
import { missingId } from './missing-id';
import { missingReference } from './missing-reference';
import { needsAddOn } from './needs-add-on';
import { longText } from './long-text';
import { wrongName } from './wrong-name';
import { missingText } from './missing-text';
import { changesNothing } from './changes-nothing';
import { removesNothing } from './removes-nothing';
import { staleDerived } from './stale-derived';
import { sameAsBase } from './same-as-base';
import { sameName } from './same-name';
import { staleCopy } from './stale-copy';
import { patchFile } from './patch-file';
import type { Draft, Rule, Severity, Snag } from './snag';
import { tooManyRows } from './too-many-rows';
import { addsOrReplaces } from './adds-or-replaces';
import { unlikeGame } from './unlike-game';
import { unlikeText } from './unlike-text';
import { unreadableFile } from './unreadable-file';
import { wrongKind } from './wrong-kind';
import { wrongType } from './wrong-type';

/** Every rule, in the order in which their snags are worth reading. */
export const RULES: readonly Rule[] = [
	unreadableFile,
	patchFile,
	unlikeGame,
	addsOrReplaces,
	missingId,
	duplicateId,
	missingReference,
	needsAddOn,
	wrongKind,
	missingText,
	longText,
	cutOff,
	unlikeText,
	openTag,
	textLanguage,
	pluralForms,
	textCase,
	unusedText,
	oddLetter,
	oddQuotes,
	sameText,
	againstTerm,
	missingField,
	incompleteRecord,
	missingPart,
	wrongType,
	unknownWord,
	hardLimit,
	tooExact,
	outOfOrder,
	wrongName,
	wrongCounter,
	scriptNames,
	scriptLoads,
	tooManyRows,
	missingFile,
	missingAsset,
	twinsApart,
	overlaps,
	endlessChain,
	offTheMap,
	inTheGround,
	leadsNowhere,
	neverReached,
	onTop,
	unusualValue,
	heldTwice,
	idElsewhere,
	overBudget,
	withoutEffect,
	removesNothing,
	changesNothing,
	staleCopy,
	staleDerived,
	sameName,
	sameAsBase
];

export type Counts = Record<Severity, number>;

const ORDER: Severity[] = ['blocks', 'warns', 'note'];

/** All snags of a stack, those that block first; then by rule and place. In steps, between which others may go first. */
export function* checkSteps(stack: Stack, links: Links): Generator<void, Snag[]> {
	const found: Draft[] = [];
	for (const rule of RULES) {
		for (const snag of rule.find({ stack, links })) {
			if (snag) found.push(snag);
			yield;
		}
		yield;
	}
	return (yield* withoutBase({ stack, links }, found, RULES))
		.map((snag, at) => ({ snag, at }))
		.sort((a, b) => ORDER.indexOf(a.snag.severity) - ORDER.indexOf(b.snag.severity) || a.at - b.at)
		.map(({ snag }) => snag);
}

/** The same, in one go. */
export const checkStack = (stack: Stack, links: Links = buildLinks(stack)): Snag[] =>
	inOneGo(checkSteps(stack, links));

/** How many block, warn and are notes. */
export function countSnags(snags: readonly Snag[]): Counts {
	const counts: Counts = { blocks: 0, warns: 0, note: 0 };
	for (const snag of snags) counts[snag.severity]++;
	return counts;
}
