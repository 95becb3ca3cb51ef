<script lang="ts">
	import { fileAddress } from '$ui/frame/address';
	import { applyIntention } from '$ui/frame/client.svelte';
	import CodeValues from '$ui/text/CodeValues.svelte';
	import Places from '$ui/text/Places.svelte';

	/** Numbers and texts inside a script, each a field in its line of code. */
	let { data } = $props();
	const address = $derived(data.path.split('/').map(encodeURIComponent).join('/'));
</script>

<svelte:head><title>Inside {data.path} · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-5xl px-6 py-5">
	<p class="text-steam"><a class="follow" href="/p/{data.slug}/scripts">Scripts</a></p>
	<h1>Numbers and texts in <span class="font-mono text-[18px]">{data.path}</span></h1>
	<p class="mt-1 text-steam">
		<span class={data.mine ? 'text-copper' : ''}>{data.layer.title}</span> ·
		<a class="follow" href={fileAddress(data.slug, data.layer.id, data.path)}>Page of the file</a> ·
		<a class="follow" href="/p/{data.slug}/edit/{address}">Edit text</a>
		{#if !data.mine}· The first change puts your version of the whole file into your mod.{/if}
	</p>
	{#if data.functions.length === 0}
		<p class="plate mt-4 p-6">There are no numbers or texts in this script.</p>
	{/if}
	{#each data.functions as group (group.name)}
		<section class="plate mt-4 p-4" aria-label={group.name ?? 'Outside of functions'}>
			<h2 class="flex flex-wrap items-baseline gap-3">
				{#if group.name}<code>{group.name}()</code>{:else}Outside of functions{/if}
				{#if group.used.length > 0}<span class="text-[13px] font-normal text-steam"
						>called in <Places slug={data.slug} places={group.used} /></span
					>{/if}
			</h2>
			<div class="mt-2 space-y-1.5">
				{#each group.lines as line (`${line.line} ${line.code}`)}
					<div class="flex gap-3">
						<a
							class="follow w-10 shrink-0 pt-1 text-right font-mono text-[12px] text-steam"
							href="/p/{data.slug}/edit/{address}?line={line.line}"
							aria-label="Edit text at line {line.line}">{line.line}</a
						>
						<CodeValues
							slug={data.slug}
							{line}
							change={({ nth, raw }, value) =>
								applyIntention(data.slug, { do: 'literal', path: data.path, nth, expected: raw, value })}
						/>
					</div>
					{#if line.gives && line.gives.used.length > 0}
						<p class="pl-13 text-[13px] text-steam">
							<code>{line.gives.name}</code> is also used in
							<Places slug={data.slug} places={line.gives.used} />
						</p>
					{/if}
				{/each}
			</div>
		</section>
	{/each}
	{#if data.more > 0}<p class="mt-3 text-steam">
			{data.more} more are not shown; edit the text to change them.
		</p>{/if}
</div>
