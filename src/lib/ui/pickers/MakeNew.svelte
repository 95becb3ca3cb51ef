<script lang="ts">
	import type { Intention } from '$core/edits';
	import type { Ticket } from '$core/views';
	import { say } from '../frame/client.svelte';
	import CopyForm from '../ticket/CopyForm.svelte';
	import { making } from './making.svelte';
	import PlanDialog from '../plan/PlanDialog.svelte';

	/** Makes a record that a field is to name: a copy of another, and the field with it, as one plan. */
	let { slug }: { slug: string } = $props();

	let ticket = $state<Ticket | null>(null);
	let plan = $state<Intention | null>(null);

	$effect(() => {
		const { wish } = making;
		ticket = null;
		if (!wish) return;
		const path = [wish.kind, wish.id].map(encodeURIComponent).join('/');
		fetch(`/p/${slug}/api/ticket/${path}`)
			.then((answer) => (answer.ok ? answer.json() : Promise.reject(new Error(String(answer.status)))))
			.then(
				(found: Ticket) => {
					if (making.wish === wish) ticket = found;
				},
				() => {
					making.wish = null;
					say('The record to copy could not be loaded. Try again.', { bad: true });
				}
			);
	});

	function done(made: Intention | null) {
		const into = making.wish?.into;
		if (made?.do === 'copy' && into) plan = { ...made, into };
		making.wish = null;
	}
</script>

{#if ticket && making.wish}<CopyForm {slug} {ticket} {done} />{/if}
<PlanDialog {slug} bind:intention={plan} />
