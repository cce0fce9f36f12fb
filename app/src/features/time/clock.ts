/** Time as it runs over a run-through: played, recorded, looped, step by step. */
import { useCallback, useEffect, useRef, useState } from 'react';
import { useLatest } from '../../ui/use-latest';

export interface Clock {
	/** Seconds. */
	at: number;
	running: boolean;
	speed: number;
	/** The part that is played over and over, seconds; null for the whole, once. */
	loop: readonly [number, number] | null;
	seek: (t: number) => void;
	play: () => void;
	pause: () => void;
	setSpeed: (speed: number) => void;
	setLoop: (loop: readonly [number, number] | null) => void;
}

/** Longest time between two instants, milliseconds: more than thirty a second, however long one takes to be drawn. */
const LONGEST_TICK = 20;

/**
 * @param end seconds
 * @param onTime told of each instant, before it is drawn
 */
export function useClock(end: number, onTime: (t: number) => void): Clock {
	const [at, setAt] = useState(0);
	const [running, setRunning] = useState(false);
	const [speed, setSpeed] = useState(1);
	const [loop, setLoop] = useState<readonly [number, number] | null>(null);
	const now = useRef(0);
	const told = useLatest(onTime);
	const go = useCallback(
		(t: number) => {
			now.current = t;
			told.current(t);
			setAt(t);
		},
		[told],
	);
	useEffect(() => {
		if (!running) return;
		let last = performance.now();
		let frame = 0;
		let timer: ReturnType<typeof setTimeout> | undefined;
		const stop = () => {
			cancelAnimationFrame(frame);
			clearTimeout(timer);
		};
		const tick = () => {
			stop();
			const time = performance.now();
			const [from, to] = loop ?? [0, end];
			let t = now.current + (Math.max(0, time - last) / 1000) * speed;
			last = time;
			if (t >= to && loop) t = from;
			go(Math.min(to, t));
			if (t >= to) setRunning(false);
			else next();
		};
		// With every frame; where drawing takes longer, time is not held up by it.
		const next = () => {
			frame = requestAnimationFrame(tick);
			timer = setTimeout(tick, LONGEST_TICK);
		};
		next();
		return stop;
	}, [running, speed, loop, end, go]);
	const seek = useCallback((t: number) => go(Math.max(0, Math.min(end, t))), [go, end]);
	const pause = useCallback(() => setRunning(false), []);
	return {
		at,
		running,
		speed,
		loop,
		seek,
		play: () => {
			if (now.current >= (loop?.[1] ?? end) - 1e-9) go(loop?.[0] ?? 0);
			setRunning(true);
		},
		pause,
		setSpeed,
		setLoop,
	};
}
