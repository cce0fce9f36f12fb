/** A bench that stands where a game told things to be. What is edited on it is edited in the open project: queries and layers, not places. */
import type { Project } from '@frelk/core';
import { type BenchStore, createBench } from '../../model/store';

/** @param main the bench of the open project, to which all edits go */
export function createTold(main: BenchStore, project: Project): BenchStore {
	const bench = createBench(main.getState().key, project);
	bench.setState({
		cardSide: 'queries',
		edit: (label, recipe) => main.getState().edit(label, recipe),
		editPlain: (label, recipe) => main.getState().editPlain(label, recipe),
		put: (label, next, renaming) => main.getState().put(label, next, renaming),
		beginGesture: (label) => main.getState().beginGesture(label),
		endGesture: () => main.getState().endGesture(),
		cancelGesture: () => main.getState().cancelGesture(),
		undo: () => main.getState().undo(),
		redo: () => main.getState().redo(),
		show: (panel) => main.getState().show(panel),
		refuse: (why) => main.getState().refuse(why),
		dockAt: (dock) => main.getState().dockAt(dock),
	});
	return bench;
}
