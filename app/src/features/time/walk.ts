/** Walking while time runs: keys that are held move who looks, smoothly. */
import { useEffect, useRef } from 'react';
import { queryIn } from '../../model/use-bench';
import { moverOf, walkBy } from '../stage/eye/walking';
import type { Instant } from './instant';

/** Metres and degrees in a second. */
const PACE = 1.6;
const TURN = 90;

const KEYS = ['ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight', 'PageUp', 'PageDown'];

/** @param active while it records; what is in hand keeps the arrow keys for itself */
export function useHeldWalk(instant: Instant, active: boolean): (dt: number) => void {
	const held = useRef(new Map<string, boolean>());
	useEffect(() => {
		if (!active) return;
		const keys = held.current;
		const down = (event: KeyboardEvent) => {
			const { selection, camera } = instant.bench.getState();
			if (!KEYS.includes(event.key) || selection.length > 0 || camera !== null) return;
			keys.set(event.key, event.shiftKey);
			event.preventDefault();
			event.stopPropagation();
		};
		const up = (event: KeyboardEvent) => void keys.delete(event.key);
		const clear = () => keys.clear();
		window.addEventListener('keydown', down, true);
		window.addEventListener('keyup', up, true);
		window.addEventListener('blur', clear);
		return () => {
			clear();
			window.removeEventListener('keydown', down, true);
			window.removeEventListener('keyup', up, true);
			window.removeEventListener('blur', clear);
		};
	}, [instant, active]);
	return (dt) => {
		const keys = held.current;
		if (keys.size === 0 || dt <= 0) return;
		const state = instant.bench.getState();
		const { world } = state.derived;
		const query = queryIn(state);
		const mover = moverOf(world, query, state.through);
		if (!mover) return;
		const way = (plus: string, minus: string) => (keys.has(plus) ? 1 : 0) - (keys.has(minus) ? 1 : 0);
		const aside = keys.get('ArrowLeft') === true || keys.get('ArrowRight') === true;
		const side = way('ArrowRight', 'ArrowLeft');
		state.edit(
			`Walk ${mover.name}`,
			walkBy(
				mover,
				{
					ahead: way('ArrowUp', 'ArrowDown') * PACE * dt,
					right: aside ? side * PACE * dt : 0,
					turn: aside ? 0 : -side * TURN * dt,
					look: way('PageUp', 'PageDown') * TURN * 0.5 * dt,
				},
				world,
				query,
			),
		);
	};
}
