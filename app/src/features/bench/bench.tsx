/** The bench: query list, sentence, stage and ladder around one project. */
import { useEffect } from 'react';
import { readLocal, writeLocal } from '../../data/local';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { Boundary, Part } from '../../ui/part';
import { Ladder } from '../ladder/ladder';
import { Sentence } from '../sentence/sentence';
import { Stage } from '../stage/stage';
import { CardOverQueries } from './card-over-queries';
import { DistanceAxis } from './distance-axis';
import { QueryList } from './query-list';

const UNDOCKED = 'grid-cols-[13.5rem_minmax(0,1fr)_18.5rem] max-[1140px]:grid-cols-[11rem_minmax(0,1fr)_15rem]';
/** With something docked the queries give way to it, where there is not room for both. */
const DOCKED =
	'grid-cols-[13.5rem_minmax(0,1fr)_18.5rem] max-[1480px]:grid-cols-[minmax(0,1fr)_18.5rem] max-[1140px]:grid-cols-[minmax(0,1fr)_15rem]';

const loadWalk = () => import('./walk');

export function Bench() {
	const store = useBenchStore();
	const docked = useBench((s) => s.dock !== null);
	const drawer = useBench((s) => s.drawer);
	const walking = useBench((s) => s.walking);
	// The walk speaks of what is on the bench: who comes in by another view is shown it here.
	useEffect(() => {
		if (readLocal('frelk-walked')) return;
		writeLocal('frelk-walked', 'yes');
		store.getState().takeWalk(true);
	}, [store]);
	return (
		<main
			className={`relative grid min-h-0 ${docked ? DOCKED : UNDOCKED} max-[980px]:grid-cols-[minmax(0,1fr)] max-[980px]:grid-rows-[auto_minmax(0,1fr)]`}
		>
			{walking && <Part what="The first walk" load={loadWalk} give={{}} />}
			{/* With little room the panels at both sides are drawers over the stage. */}
			<div className="hidden justify-end gap-1 border-b bg-panel px-2 py-1 max-[980px]:flex">
				{(['queries', 'ladder'] as const).map((name) => (
					<Button
						key={name}
						aria-pressed={drawer === name}
						className={drawer === name ? 'border-ink! font-semibold' : ''}
						onClick={() => store.getState().drawOut(drawer === name ? null : name)}
					>
						{name === 'queries' ? 'Queries' : 'Ladder'}
					</Button>
				))}
			</div>
			<div
				className={`relative z-10 grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[minmax(0,1fr)] max-[980px]:absolute max-[980px]:top-8.25 max-[980px]:bottom-0 max-[980px]:left-0 max-[980px]:w-56 max-[980px]:shadow-lg ${docked ? 'max-[1480px]:hidden' : drawer === 'queries' ? '' : 'max-[980px]:hidden'}`}
			>
				<Boundary what="The list of queries">
					<QueryList />
				</Boundary>
				<CardOverQueries />
			</div>
			<div className="grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(200px,1fr)_auto]">
				<Boundary what="The sentence">
					<Sentence />
				</Boundary>
				<Boundary what="The stage">
					<Stage />
				</Boundary>
				<Boundary what="The distance axis">
					<DistanceAxis />
				</Boundary>
			</div>
			<div
				className={`grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[minmax(0,1fr)] max-[980px]:absolute max-[980px]:top-8.25 max-[980px]:bottom-0 max-[980px]:right-0 max-[980px]:z-20 max-[980px]:w-72 max-[980px]:shadow-lg ${drawer === 'ladder' ? 'bg-panel' : 'max-[980px]:hidden'}`}
			>
				<Boundary what="The ladder">
					<Ladder />
				</Boundary>
			</div>
		</main>
	);
}
