/** The canvas under stage and eye, kept in line with the world and with what the answers say of it. */
import type { World } from '@frelk/core';
import { type RefObject, useEffect, useMemo, useRef, useState } from 'react';
import { tintOf } from '../../../drawing/hues';
import type { Laid } from '../../../drawing/laid';
import { useBench, useDerived } from '../../../model/use-bench';
import { useTheme } from '../../../ui/theme';
import { measured } from '../timing';
import { blockingIn, emphasesOf } from './emphasis';
import { type Palette, type Part, Scene3D } from './scene3d';

function palette(dark: boolean): Palette {
	const style = getComputedStyle(document.documentElement);
	const of = (name: string) => style.getPropertyValue(`--${name}`).trim();
	return {
		ground: of('ground'),
		ink: of('ink'),
		line: of('line'),
		dark,
		tones: { chosen: of('chosen'), tie: of('tie'), cut: of('cut'), outranked: of('outranked'), short: of('short') },
	};
}

interface Rendered {
	size: { w: number; h: number };
	/** What is drawn, each into its rectangle of the canvas. */
	parts: readonly Part[];
	/** Layers that stop the query in hand. */
	blockers: readonly string[] | 'all' | undefined;
	cutBy: string | null;
	hidden: ReadonlySet<string>;
	lookers: ReadonlySet<string>;
	depthOf: (z: number) => number;
	/** What lies on the ground. */
	laid: Laid | null;
}

const tintsOf = (built: World, ...how: [by: Parameters<typeof tintOf>[2], dark: boolean]) =>
	built.objects.map((o) => tintOf(built, o, ...how));

/** @returns why nothing can be drawn, or null */
export function useRendering(canvas: RefObject<HTMLCanvasElement | null>, rendered: Rendered): string | null {
	const { size, parts, blockers, cutBy, hidden, lookers, depthOf, laid } = rendered;
	const { world, built, movement, current } = useDerived();
	const tint = useBench((s) => s.tint);
	const pointed = useBench((s) => s.pointed);
	const dark = useTheme() === 'dark';
	const scene = useRef<Scene3D | null>(null);
	const [failed, setFailed] = useState<string | null>(null);
	const blocking = useMemo(() => blockingIn(built, blockers), [built, blockers]);
	const tints = useMemo(() => tintsOf(built, tint, dark), [built, tint, dark]);
	const colours = useMemo(() => (typeof document === 'undefined' ? null : palette(dark)), [dark]);
	useEffect(() => {
		if (!canvas.current) return;
		try {
			scene.current = new Scene3D(canvas.current);
		} catch (error) {
			setFailed(error instanceof Error ? error.message : String(error));
		}
		return () => {
			scene.current?.dispose();
			scene.current = null;
		};
	}, [canvas]);
	const { w, h } = size;
	useEffect(() => {
		scene.current?.resize(Math.max(1, w), Math.max(1, h));
	}, [w, h]);
	useEffect(() => {
		const drawn = scene.current;
		if (!drawn || w === 0 || h === 0 || !colours) return;
		const begun = performance.now();
		drawn.update(
			world,
			colours,
			emphasesOf(world, current, { cutBy, pointed, blocking, tint }),
			tints,
			hidden,
			lookers,
			depthOf,
			movement,
		);
		drawn.lay(laid, world.flat);
		drawn.draw(parts, h);
		measured('frelk-draw', begun);
	}, [
		world,
		movement,
		parts,
		w,
		h,
		colours,
		current,
		cutBy,
		pointed,
		blocking,
		tint,
		tints,
		hidden,
		lookers,
		depthOf,
		laid,
	]);
	return failed;
}
