// Runs before the page is painted, so that it never shows in the other theme first.
document.documentElement.dataset.theme =
	localStorage.getItem('theme') ?? (matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light');
