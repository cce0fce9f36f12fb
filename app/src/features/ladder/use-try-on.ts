/** A change that is seen as it would be while it is pointed at. */
import type { Project } from '@frelk/core';
import { type PointerEvent, useEffect, useRef } from 'react';
import { useBenchStore } from '../../model/use-bench';

/** How long one is pointed at before it is shown, milliseconds: on the way to another nothing is built. */
const POINTED = 120;

/** What a button of a change is given. */
interface TriedOn {
	onPointerMove: (event: PointerEvent) => void;
	onPointerLeave: () => void;
	onFocus: () => void;
	onBlur: () => void;
}

/** @returns of a change, in words and as the project would be, what its button does when it is pointed at */
export function useTryOn(): (words: string, after: () => Project) => TriedOn {
	const store = useBenchStore();
	const pointing = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
	useEffect(
		() => () => {
			clearTimeout(pointing.current);
			store.getState().tryOn(null);
		},
		[store],
	);
	return (words, after) => {
		const show = () => {
			clearTimeout(pointing.current);
			pointing.current = setTimeout(() => store.getState().tryOn({ words, project: after() }), POINTED);
		};
		const leave = () => {
			clearTimeout(pointing.current);
			pointing.current = undefined;
			store.getState().tryOn(null);
		};
		/** A list that opened under the pointer was not pointed at: the hand has to move. */
		const move = ({ movementX, movementY }: PointerEvent) => {
			if (pointing.current === undefined && (movementX !== 0 || movementY !== 0)) show();
		};
		return { onPointerMove: move, onPointerLeave: leave, onFocus: show, onBlur: leave };
	};
}
