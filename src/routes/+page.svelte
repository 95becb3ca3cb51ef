<script lang="ts">
	import { counted } from '$core/wording';
	import ProjectFiles from '$ui/project/ProjectFiles.svelte';
	import ImportForm from '$ui/project/ImportForm.svelte';
	import PlainBand from '$ui/frame/PlainBand.svelte';
	import RemoveProject from '$ui/project/RemoveProject.svelte';

	let { data } = $props();
	let removed = $state<(typeof data.projects)[number] | null>(null);
	const day = (time: string) => new Date(time).toLocaleDateString('en-GB', { dateStyle: 'medium' });
</script>

<svelte:head><title>Kettle Dial</title></svelte:head>
<PlainBand />
<main class="mx-auto max-w-3xl px-6 py-10">
	{#if data.projects.length > 0}
		<h1>Projects</h1>
		<ul class="mt-4 space-y-2">
			{#each data.projects as project (project.slug)}
				<li class="plate flex items-center gap-3 pr-3 hover:bg-wash">
					<a
						class="flex flex-1 items-baseline justify-between gap-4 rounded-lg px-4 py-3 -outline-offset-2"
						href="/p/{project.slug}/find"
						><span class="text-[16px] font-semibold">{project.title}</span><span class="text-steam"
							>{project.changedAt
								? `${counted(project.steps, 'step')}, the last on ${day(project.changedAt)}`
								: 'no step yet'}</span
						></a
					>
					<a
						class="press slight"
						href="/p/{project.slug}/api/export?layers=yes"
						download
						aria-label="Export {project.title}">Export</a
					>
					<button class="press slight" aria-label="Remove {project.title}" onclick={() => (removed = project)}
						>Remove…</button
					>
				</li>
			{/each}
		</ul>
		<h2 class="mt-10">Import another game</h2>
	{:else}
		<h1>Import your game</h1>
		<p class="mt-1 text-steam">
			Its files are read and never changed; your own changes are kept beside them.
		</p>
	{/if}
	<ImportForm roots={data.roots} />
	<h2 class="mt-10">Import a project</h2>
	<p class="mt-1 text-steam">
		A project file holds your mod with its whole history, the field guide, notes and pocket. Kettle Dial also
		keeps one by itself after each day with changes, the last seven of every project.
	</p>
	<div class="plate mt-3 p-5"><ProjectFiles kept={data.kept} /></div>
</main>
{#if removed}
	<RemoveProject {...removed} done={() => (removed = null)} />
{/if}
