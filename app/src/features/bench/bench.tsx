/** The bench: rail, sentence, stage and ladder around one project. */
import { useEffect } from 'react';
import { readLocal, writeLocal } from '../../data/local';
import { useBench, useBenchStore, useDerived } from '../../model/use-bench';
import { Boundary, Part } from '../../ui/part';
import { Ladder } from '../ladder/ladder';
import { Sentence } from '../sentence/sentence';
import { Stage } from '../stage/stage';
import { Rail } from './rail';
import { Strip } from './strip';

const loadSlip = () => import('../slip/slip');

/** The slip, where it was put over the list of queries. */
function SlipOverRail() {
	const wanted = useBench(
		(s) =>
			s.slipSide === 'rail' && s.picked !== null && s.tool === null && s.panel !== 'roster' && s.panel !== 'moments',
	);
	const { world } = useDerived();
	const picked = useBench((s) => s.picked);
	const object = wanted && picked !== null ? world.objectById.get(picked) : undefined;
	return object ? <Part what="The slip" load={loadSlip} give={{ object, side: 'rail' }} /> : null;
}

export function Bench() {
	const store = useBenchStore();
	// The walk speaks of what is on the bench: who comes in by another view is shown it here.
	useEffect(() => {
		if (readLocal('frelk-walked')) return;
		writeLocal('frelk-walked', 'yes');
		store.getState().show('walk');
	}, [store]);
	return (
		<main className="grid min-h-0 grid-cols-[13.5rem_minmax(0,1fr)_18.5rem]">
			<div className="relative z-10 grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[minmax(0,1fr)]">
				<Boundary what="The list of queries">
					<Rail />
				</Boundary>
				<SlipOverRail />
			</div>
			<div className="grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)_auto]">
				<Boundary what="The sentence">
					<Sentence />
				</Boundary>
				<Boundary what="The stage">
					<Stage />
				</Boundary>
				<Boundary what="The distance strip">
					<Strip />
				</Boundary>
			</div>
			<Boundary what="The ladder">
				<Ladder />
			</Boundary>
		</main>
	);
}
