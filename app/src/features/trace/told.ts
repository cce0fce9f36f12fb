/** A bench that stands where a game told things to be. What is edited on it is edited in the open project: queries and layers, not places. */
import type { Project } from '@frelk/core';
import type { BenchStore } from '../../model/bench-state';
import { createBench } from '../../model/store';

/** @param main the bench of the open project, to which all edits go */
export function createTold(main: BenchStore, project: Project): BenchStore {
	const { edit, editPlain, put, beginGesture, endGesture, cancelGesture, undo, redo, refuse, show, dockAt } =
		main.getState();
	return createBench(main.getState().key, project, {
		cardSide: 'queries',
		edit,
		editPlain,
		put,
		beginGesture,
		endGesture,
		cancelGesture,
		undo,
		redo,
		refuse,
		show,
		dockAt,
	});
}
