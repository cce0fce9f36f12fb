/** What lies over the stage in frames of its own: the eye, the pile under a cursor, the card of what is in hand. */
import type { Query } from '@frelk/core';
import { useState } from 'react';
import { aroundEye } from '../../drawing/view';
import { useBench, useDerived } from '../../model/use-bench';
import { Part } from '../../ui/part';
import { Eye } from './eye/eye';
import type { StageView } from './use-stage-view';

/** Loaded when the first object is taken in hand. */
const loadCard = () => import('../card/object-card');
const loadCameraCard = () => import('../card/camera-card');
/** Only flat scenes have piles. */
const loadPile = () => import('./pile/pile');

/** Whether the card lies here: while something is drawn it is put away; one over the queries gives way to what is docked there. */
export function useSlipHere(): boolean {
	return useBench(
		(s) => (s.cardSide === 'ladder' || s.dock !== null) && s.tool === null && (s.picked ?? s.camera) !== null,
	);
}

/** @param live the open query as it stands in the world */
export function StageWindows({ stage, live }: { stage: StageView; live: Query | null }) {
	const { world, current } = useDerived();
	const through = useBench((s) => s.through);
	const picked = useBench((s) => s.picked);
	const camera = useBench((s) => s.camera);
	const cardHere = useSlipHere();
	const [mapped, setMapped] = useState(false);
	const { picture, eye, large, own } = stage;
	const object = picked === null ? undefined : world.objectById.get(picked);
	return (
		<>
			{picture && eye && (
				<div
					data-keeps-wheel
					className="absolute border border-ink/60 shadow-sm"
					style={{ left: eye.x - 1, top: eye.y - 25, width: picture.w + 2 }}
				>
					<Eye
						picture={picture}
						world={world}
						query={live}
						answer={current}
						through={through}
						place={large ? null : stage.place}
						put={stage.putEye}
						mapped={mapped}
						setMapped={setMapped}
						mapClip={
							large
								? aroundEye(picture.w, picture.h, { x: own.x - eye.x, y: own.y - eye.y, w: own.w, h: own.h })
								: undefined
						}
					/>
				</div>
			)}
			{world.flat && live?.kind === 'pick' && !large && (
				<Part what="The pile" load={loadPile} give={{ world, query: live }} />
			)}
			{cardHere && object && <Part what="The card" load={loadCard} give={{ object, side: 'ladder' }} />}
			{cardHere && camera !== null && (
				<Part what="The card" load={loadCameraCard} give={{ id: camera, side: 'ladder' }} />
			)}
		</>
	);
}
