// Runs before the first paint, so that a dark room is not lit up by a white page.
(() => {
	let saved = null;
	try {
		saved = localStorage.getItem('frelk-theme');
	} catch {
		// No storage in this browser: the system decides.
	}
	const dark = saved === 'dark' || (saved !== 'light' && matchMedia('(prefers-color-scheme: dark)').matches);
	document.documentElement.dataset.theme = dark ? 'dark' : 'light';
})();
