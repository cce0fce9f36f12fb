/** The views and what leads out of a project, by the words people use for them. */

interface ViewEntry {
	id: string;
	label: string;
	/** Address under the project; null for one of the whole program. */
	under: string | null;
	/** Address of a view of the whole program. */
	to?: string;
	/** Other words people look for it by. */
	also: string;
}

export const VIEWS: readonly ViewEntry[] = [
	{ id: 'bench', label: 'Bench', under: '', also: 'stage scene query ladder' },
	{ id: 'board', label: 'Board of checks', under: 'checks', also: 'checks tests expectations results' },
	{ id: 'weakest', label: 'Weakest checks', under: 'checks?tab=weakest', also: 'robustness margins fragile' },
	{ id: 'compare', label: 'Compare with an earlier version', under: 'checks?tab=compare', also: 'diff changes edits' },
	{ id: 'history', label: 'History of checks', under: 'checks?tab=history', also: 'runs before failed' },
	{ id: 'maps', label: 'Maps', under: 'checks?tab=maps', also: 'coverage picture target size floor from where' },
	{ id: 'findings', label: 'Findings', under: 'checks?tab=findings', also: 'problems warnings lint wrong' },
	{ id: 'filters', label: 'Filters', under: 'filters', also: 'layers masks tags sides states matrix' },
	{
		id: 'time',
		label: 'Over time',
		under: 'time',
		also: 'runs timeline lanes record presses hold lock trace live game',
	},
	{ id: 'level', label: 'Read a level…', under: 'level', also: 'import glb gltf svg mesh file naming rules' },
	{ id: 'guide', label: 'Guide', under: null, to: '/guide', also: 'help manual docs how words' },
	{ id: 'home', label: 'All projects', under: null, to: '/', also: 'home open import new examples switch' },
];

/** @param key of the open project */
export const addressOf = (view: ViewEntry, key: string): string =>
	view.to ?? (view.under === '' ? `/p/${key}` : `/p/${key}/${view.under}`);
