<script lang="ts">
	import { counted, listed } from '$core/wording';
	import type { MapPage, MapView, MapWay } from '$core/views';
	import { written, type Leading, type Standing } from './scene';
	import { bothField, canLead, type Arrangement } from './changes';

	/** What is picked on the map: where it stands, and what can be done with it. */
	let {
		map,
		view,
		held,
		links,
		way,
		mode,
		href,
		set,
		setLink,
		turn,
		arrange,
		remove,
		toGround,
		enter,
		showWay
	}: {
		map: MapPage['map'];
		view: MapView;
		held: readonly Standing[];
		/** What leads from things of the map to others. */
		links: readonly Leading[];
		way: { from: string; to: string; found: MapWay } | null;
		mode: 'look' | 'add' | 'link' | 'measure';
		/** The address of the ticket of a thing. */
		href: (thing: Standing) => string;
		set: (thing: Standing, values: Record<string, string>) => void;
		/** Makes a link two-way or one-way, puts a point into its middle, or takes it out. */
		setLink: (link: Leading, what: 'both' | 'one' | 'split' | 'remove') => void;
		/** Turns what is picked to an angle. */
		turn: (angle: number) => void;
		arrange: (how: Arrangement) => void;
		remove: () => void;
		toGround: () => void;
		enter: (mode: 'look' | 'add' | 'link') => void;
		showWay: (from: string, to: string) => void;
	} = $props();

	const one = $derived(held.length === 1 ? held[0]! : null);
	const turns = $derived(held.some(({ angle }) => angle !== null));
	const leads = $derived(
		one !== null && (canLead(view, one.kind) || links.some(({ from }) => from.kind === one.kind))
	);
	const leaving = $derived(one ? links.filter(({ from }) => from.nth === one.nth) : []);
	const coming = $derived(one ? links.filter(({ to }) => to?.nth === one.nth) : []);
	const nameOf = (link: Leading) => link.to?.name ?? link.toId;
	const alone = $derived(one?.name ?? one?.id ?? '');
	/** North, north-east and so on, by eighths of a turn. */
	const WINDS = ['N', 'NE', 'E', 'SE', 'S', 'SW', 'W', 'NW'];
	const wind = (angle: number) => WINDS[Math.round(angle / 45) % 8]!;

	function face(event: MouseEvent) {
		const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
		const [x, y] = [event.clientX - box.left - box.width / 2, event.clientY - box.top - box.height / 2];
		turn((Math.round((Math.atan2(x, -y) * 180) / Math.PI) + 360) % 360);
	}
	const ARRANGED: [Arrangement, string][] = [
		['row', 'In a row'],
		['column', 'In a column'],
		['spread', 'Spread evenly'],
		['mirror', 'Mirror']
	];
</script>

<section class="text-[13px]" aria-label="What is picked">
	{#if held.length === 0}
		<p class="text-steam">Pick something on the map or in the list. With Shift, several are picked.</p>
		<p class="mt-1 text-[12px] text-steam">
			<kbd>Arrows</kbd> move it, <kbd>Shift</kbd> in large steps, <kbd>Alt</kbd> in the finest; <kbd>,</kbd>
			and
			<kbd>.</kbd> turn it; <kbd>Ctrl C</kbd> copies where it stands, <kbd>Delete</kbd> removes it.
		</p>
	{:else}
		<h2 class="text-[15px]">
			{#if one}<a class="follow" href={href(one)}>{alone}</a>
				<span class="font-sans text-[12px] font-normal text-steam">{one.kind.title}</span>{:else}{counted(
					held.length,
					'thing'
				)}{/if}
		</h2>
		{#if one}
			<div class="mt-1 flex flex-wrap items-center gap-2">
				{#each [['x', one.x], ['y', one.y]] as const as [axis, value] (axis)}
					<label class="flex items-center gap-1"
						>{axis}<input
							class="box w-22 font-mono"
							inputmode="decimal"
							value={written(value, one.kind.decimals)}
							onchange={(event) => set(one, { [one.kind.fields[axis]]: event.currentTarget.value.trim() })}
						/></label
					>
				{/each}
				{#if one.z !== null}<span class="text-steam"
						>{map.ground?.says === 'depth' ? 'depth' : 'height'}
						<span class="font-mono text-ink">{written(one.z, one.kind.heights)}</span></span
					>{/if}
				{#if one.radius !== null}<span class="text-steam"
						>reaches <span class="font-mono text-ink">{one.radius}</span> {map.unit}</span
					>{/if}
				{#if one.amount !== null}<span class="text-steam"
						>×<span class="font-mono text-ink">{one.amount}</span></span
					>{/if}
			</div>
		{/if}
		{#if turns}
			<div class="mt-1 flex items-center gap-2">
				<svg
					width="44"
					height="44"
					viewBox="-22 -22 44 44"
					class="shrink-0 cursor-pointer"
					aria-hidden="true"
					onclick={face}
				>
					<circle r="19" fill="var(--porcelain)" stroke="var(--rim)" />
					{#each [0, 90, 180, 270] as tick (tick)}<line
							y1="-19"
							y2="-15"
							transform="rotate({tick})"
							stroke="var(--steam)"
						/>{/each}
					<path d="M0 -16 L4 4 L0 1 L-4 4 Z" fill="var(--copper)" transform="rotate({held[0]!.angle ?? 0})" />
				</svg>
				<label class="flex items-center gap-1"
					>Facing<input
						class="box w-16 font-mono"
						inputmode="numeric"
						value={held[0]!.angle ?? 0}
						onchange={(event) => {
							const angle = Number(event.currentTarget.value);
							if (Number.isFinite(angle)) turn(angle);
						}}
					/>°</label
				>
				<span class="text-steam">{wind(held[0]!.angle ?? 0)}</span>
			</div>
		{/if}
		<div class="mt-2 flex flex-wrap gap-1">
			<button
				class="press slight"
				aria-pressed={mode === 'add'}
				onclick={() => enter(mode === 'add' ? 'look' : 'add')}
				>{one ? 'Add another like this' : 'Add others like these'}</button
			>
			<button class="press slight" onclick={remove}>Remove</button>
			{#if view.ground && held.some(({ z }) => z !== null)}<button class="press slight" onclick={toGround}
					>{map.ground?.says === 'depth' ? 'Depth' : 'Height'} from the ground</button
				>{/if}
			{#if held.length > 1}
				{#each ARRANGED as [how, title] (how)}<button
						class="press slight"
						disabled={how === 'spread' && held.length < 3}
						onclick={() => arrange(how)}>{title}</button
					>{/each}
			{/if}
		</div>
		{#if mode === 'add'}<p class="mt-1 text-saffron" role="status">
				Click where it should stand on the map. Esc ends this.
			</p>{/if}
		{#if one && leads}
			<div class="mt-2 border-t border-line pt-2">
				{#each leaving as link (`${link.record?.id ?? link.field} ${link.span[0]}`)}
					<div class="mb-1 flex flex-wrap items-center gap-1">
						<span class="mr-1"
							>Leads to <span class="font-mono">{nameOf(link)}</span>{link.both ? ', and back' : ''}.</span
						>
						{#if bothField(link) !== null}<label class="mr-1 flex items-center gap-1"
								><input
									type="checkbox"
									class="accent-(--rim)"
									aria-label={leaving.length > 1 ? `Both ways to ${nameOf(link)}` : undefined}
									checked={link.both}
									onchange={(event) => setLink(link, event.currentTarget.checked ? 'both' : 'one')}
								/>Both ways</label
							>{/if}
						{#if link.to}<button class="press slight" onclick={() => setLink(link, 'split')}
								>Put a point between</button
							>{/if}
						<button class="press slight" onclick={() => setLink(link, 'remove')}>Remove the link</button>
					</div>
				{:else}<p>Leads nowhere.</p>{/each}
				{#if coming.length > 0}<p class="text-steam">
						Reached from {listed(
							coming.slice(0, 4).map(({ from }) => from.name ?? from.id),
							'and'
						)}{coming.length > 4 ? ` and ${coming.length - 4} more` : ''}.
					</p>{/if}
				{#if one.cut}<p class="text-scald">Nothing leads from here to {view.goal}.</p>{/if}
				{#if one.lost}<p class="text-scald">Nothing leads here from {view.start}.</p>{/if}
				<div class="mt-1 flex flex-wrap items-center gap-1">
					{#if canLead(view, one.kind)}<button
							class="press slight"
							aria-pressed={mode === 'link'}
							onclick={() => enter(mode === 'link' ? 'look' : 'link')}>Lead to…</button
						>{/if}
					{#if view.goal !== null && view.goal !== one.id}<button
							class="press slight"
							onclick={() => showWay(one.id, view.goal!)}>Way to {view.goal}</button
						>{/if}
					{#if view.start !== null && view.start !== one.id}<button
							class="press slight"
							onclick={() => showWay(view.start!, one.id)}>Way from {view.start}</button
						>{/if}
				</div>
				{#if mode === 'link'}<p class="mt-1 text-saffron" role="status">
						Click what it should lead to; with Shift, both ways. Esc ends this.
					</p>{/if}
			</div>
		{/if}
		{#if held.length === 2 && held[0]!.kind === held[1]!.kind && links.some(({ from }) => from.kind === held[0]!.kind)}
			<button class="press slight mt-2" onclick={() => showWay(held[0]!.id, held[1]!.id)}
				>Way from {held[0]!.id} to {held[1]!.id}</button
			>
		{/if}
		{#if way}
			<p class="mt-2" role="status" data-testid="way">
				{#if way.found.points.length > 0}
					From {way.from} to {way.to}:
					<span class="font-mono">{Math.round(way.found.length * 100) / 100}</span>
					{map.unit} over {counted(way.found.points.length - 1, 'link')}.
					{#if way.found.narrowest}Narrowest from {way.found.narrowest.from} to {way.found.narrowest.to}:
						<span class="font-mono">{way.found.narrowest.width}</span>.{/if}
				{:else}
					There is no way from {way.from} to {way.to}.
					{#if way.found.mend}The shortest link that would make one: {way.found.mend.from} to {way.found.mend
							.to},
						<span class="font-mono">{Math.round(way.found.mend.length)}</span>
						{map.unit}.{/if}
				{/if}
			</p>
		{/if}
	{/if}
</section>
