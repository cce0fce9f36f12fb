/** The view of a bench: what is open, in hand and pointed at. Nothing of it is saved or undone. */
import type { Project } from '@frelk/core';
import { readLocal, writeLocal } from '../data/local';
import type { BenchState, Publish, ViewState } from './bench-state';

const CARD = 'frelk-card';

/** @returns the view as it begins, and what changes it */
export function viewOf(project: Project, set: Publish, get: () => BenchState): ViewState {
	let marks = 0;
	let inFront: (() => boolean) | null = null;
	return {
		moving: false,
		query: project.queries[0]?.id ?? null,
		selection: [],
		picked: null,
		tool: null,
		tint: 'layer',
		panel: null,
		walking: false,
		drawer: null,
		dock: null,
		camera: null,
		through: null,
		cardSide: readLocal(CARD) === 'queries' ? 'queries' : 'ladder',
		inDetail: false,
		firm: null,
		nextPart: null,
		swing: null,
		swings: 0,
		frames: 0,
		pinned: null,
		wanted: null,
		preview: null,
		pointed: null,

		move: (moving) => set({ moving }),
		pick: (object, also = false) => {
			const { selection } = get();
			const next = !also
				? [object]
				: selection.includes(object as string)
					? selection.filter((id) => id !== object)
					: [...selection, object];
			get().pickAll(next.filter((id) => id !== null));
		},
		pickAll: (selection) => set({ selection, picked: selection.at(-1) ?? null, camera: null }),
		use: (tool) => set({ tool }),
		markPart: (part, open = false) => set({ nextPart: part === null ? null : { part, open, nth: ++marks } }),
		tintBy: (tint) => set({ tint }),
		show: (panel) => set({ panel }),
		takeWalk: (walking) => set({ walking }),
		drawOut: (drawer) => set({ drawer }),
		standInFront: (leave) => {
			inFront = leave;
		},
		leave: () => {
			if (inFront?.()) return true;
			const { walking, drawer, tool, selection, camera, through, dock } = get();
			if (walking) set({ walking: false });
			else if (drawer !== null) set({ drawer: null });
			else if (tool !== null) set({ tool: null });
			else if (selection.length > 0 || camera !== null) get().pick(null);
			else if (through !== null) set({ through: null });
			else if (dock !== null) set({ dock: null });
			else return false;
			return true;
		},
		dockAt: (dock) => set({ dock }),
		takeCamera: (camera) => set({ camera, selection: [], picked: null }),
		lookThrough: (through) => set({ through }),
		pin: (pinned) => set({ pinned }),
		want: (wanted) => set({ wanted, preview: null }),
		tryOn(preview) {
			// What a hand holds goes on moving what is there.
			if (get().preview !== preview && (preview === null || !get().gesture)) set({ preview });
		},
		swingAt: (swing) => {
			if (get().swing !== swing) set({ swing });
		},
		frameHand: () => set({ frames: get().frames + 1 }),
		letSwing: () => set({ swings: get().swings + 1 }),
		showRobustness: (firm) => set({ firm }),
		dockCard: (cardSide) => {
			writeLocal(CARD, cardSide);
			set({ cardSide });
		},
		detail: (inDetail) => set({ inDetail }),
		point: (pointed) => {
			if (get().pointed !== pointed) set({ pointed });
		},
		open: (query) =>
			// What stands beside a query closes with it.
			set({ query, nextPart: null, ...(query === get().query ? {} : { wanted: null, preview: null }) }),
	};
}
