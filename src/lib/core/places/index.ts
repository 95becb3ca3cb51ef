// places: what stands where on the maps of a game, when, and what leads to what.
export { countDays, dayIn, isThere, meet, type DayCount, type Span } from './days';
export { groundAt, groundFrom, isInGround, type Ground } from './ground';
export {
	mendingLink,
	networkOf,
	reached,
	shortestWay,
	type Link,
	type Network,
	type Point,
	type Way
} from './network';
export {
	linkedBy,
	linkedKinds,
	mapOf,
	mapsOf,
	networkIn,
	strayIn,
	type MapLink,
	type PlaceMap,
	type Thing
} from './things';
