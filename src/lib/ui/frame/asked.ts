import { navigating, page } from '$app/state';

/**
 * The address that this page was last asked to go to, or its own where nothing is under way. Whoever builds the next
 * address by changing a part of it starts here: from the address of the page, whatever was asked a moment ago and is
 * not there yet would be lost.
 */
export function asked(): URL {
	const next = navigating.to?.url;
	return next?.pathname === page.url.pathname ? next : page.url;
}
