/** The canvas under stage and eye, kept in line with the world and with what the answers say of it. */
import type { World } from '@frelk/core';
import { type RefObject, useEffect, useMemo, useRef, useState } from 'react';
import { tintOf } from '../../../drawing/hues';
import type { Laid } from '../../../drawing/laid';
import { useBench, useDerived } from '../../../model/use-bench';
import { useTheme } from '../../../ui/theme';
import { measured } from '../timing';
import type { Palette } from './batch';
import { blockingIn, emphasesOf } from './emphasis';
import type { Part, Scene3D } from './scene3d';

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

export interface Rendered {
	size: { w: number; h: number };
	/** What is drawn, each into its rectangle of the canvas. */
	parts: readonly Part[];
	/** Layers that stop the query in hand. */
	blockers: readonly string[] | 'all' | undefined;
	cutBy: string | null;
	hidden: ReadonlySet<string>;
	stageOnly: ReadonlySet<string>;
	depthOf: (z: number) => number;
	/** What lies on the ground. */
	laid: Laid | null;
}

const tintsOf = (built: World, ...how: [by: Parameters<typeof tintOf>[2], dark: boolean]) =>
	built.objects.map((o) => tintOf(built, o, ...how));

/** Draws at once, but not twice in a frame: what comes faster than it can be shown is drawn once, as it was last. */
class Frames {
	private frame: number | null = null;
	private next: (() => void) | null = null;

	draw(how: () => void): void {
		if (this.frame !== null) {
			this.next = how;
			return;
		}
		how();
		this.frame = requestAnimationFrame(() => {
			this.frame = null;
			const { next } = this;
			this.next = null;
			if (next) this.draw(next);
		});
	}

	stop(): void {
		if (this.frame !== null) cancelAnimationFrame(this.frame);
		this.frame = null;
		this.next = null;
	}
}

const reasonOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));

/** @returns why nothing can be drawn, or null, and whether what draws is still on its way */
export function useRendering(
	canvas: RefObject<HTMLCanvasElement | null>,
	rendered: Rendered,
): { failed: string | null; coming: boolean } {
	const { size, parts, blockers, cutBy, hidden, stageOnly, depthOf, laid } = rendered;
	const { world, built, movement, current } = useDerived();
	const tint = useBench((s) => s.tint);
	const pointed = useBench((s) => s.pointed);
	const dark = useTheme() === 'dark';
	const [scene, setScene] = useState<Scene3D | null>(null);
	const frames = useRef(new Frames());
	const [failed, setFailed] = useState<string | null>(null);
	const blocking = useMemo(() => blockingIn(built, blockers), [built, blockers]);
	const tints = useMemo(() => tintsOf(built, tint, dark), [built, tint, dark]);
	const colours = useMemo(() => (typeof document === 'undefined' ? null : palette(dark)), [dark]);
	useEffect(() => {
		let made: Scene3D | null = null;
		let over = false;
		// What draws shapes is as large as the rest of the page: names, lines and answers are there before it.
		import('./scene3d').then(
			({ Scene3D: Made }) => {
				if (over || !canvas.current) return;
				try {
					made = new Made(canvas.current);
					setScene(made);
				} catch (error) {
					setFailed(`it needs WebGL, which this browser does not give: ${reasonOf(error)}`);
				}
			},
			(error: unknown) => !over && setFailed(`it could not be fetched; reload to try again: ${reasonOf(error)}`),
		);
		const { current: drawing } = frames;
		return () => {
			over = true;
			drawing.stop();
			made?.dispose();
			setScene(null);
		};
	}, [canvas]);
	const { w, h } = size;
	useEffect(() => {
		// What was drawn is gone with it.
		frames.current.stop();
		scene?.resize(Math.max(1, w), Math.max(1, h));
	}, [scene, w, h]);
	useEffect(() => {
		if (!scene || w === 0 || h === 0 || !colours) return;
		const begun = performance.now();
		scene.update(
			world,
			colours,
			emphasesOf(world, current, { cutBy, pointed, blocking, tint }),
			tints,
			hidden,
			stageOnly,
			depthOf,
			movement,
		);
		scene.lay(laid, world.flat);
		frames.current.draw(() => scene.draw(parts, h));
		// For who waits until there is something to see.
		if (canvas.current) canvas.current.dataset.drawn = 'yes';
		measured('frelk-draw', begun);
	}, [
		canvas,
		scene,
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
		stageOnly,
		depthOf,
		laid,
	]);
	return { failed, coming: scene === null && failed === null };
}
