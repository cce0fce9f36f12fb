/** States of objects or of the scene: renamed everywhere, with who has and who asks for them. */

import { nameOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Check, NumberField, TextField } from '../../ui/controls';
import { Adder, Counts } from './parts';
import { renameState, statesOf } from './table';

export function States({ of }: { of: 'object' | 'scene' }) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const states = statesOf(project, of);
	const values = project.scene.states ?? {};
	return (
		<section aria-label={of === 'object' ? 'States of objects' : 'States of the scene'} className="mb-6">
			<h3 className="text-[15px] font-semibold">{of === 'object' ? 'States of objects' : 'States of the scene'}</h3>
			{states.length === 0 && (
				<p className="text-quiet">
					{of === 'object' ? 'No object has a state. They are added on its card.' : 'The scene has no state.'}
				</p>
			)}
			<ul>
				{states.map(({ state, carriedBy, askedBy }) => (
					<li
						key={state}
						className="grid grid-cols-[minmax(8rem,1fr)_6.5rem_minmax(0,1fr)] items-center gap-2 border-t py-0.5"
					>
						<TextField
							label={`Name of the state ${state}`}
							className="figure border-transparent!"
							value={state}
							onCommit={(text) => {
								const to = text.trim();
								if (to === '' || to === state) return;
								// One state in place of two would take one of the values for both.
								if (states.some((s) => s.state === to))
									store
										.getState()
										.refuse(
											`There is a state “${to}” already. Rename it first, or take this one away where it is set.`,
										);
								else
									store.getState().editPlain(`Rename the state ${state}`, (draft) => renameState(draft, of, state, to));
							}}
						/>
						{of === 'scene' ? (
							<>
								{typeof values[state] === 'number' ? (
									<NumberField
										hideLabel
										label={state}
										step={1}
										value={values[state]}
										onChange={(v) =>
											store.getState().edit(state, (d) => void (d.scene.states = { ...d.scene.states, [state]: v }))
										}
									/>
								) : (
									<Check
										label={state}
										checked={values[state] === true}
										onChange={(v) =>
											store.getState().edit(state, (d) => void (d.scene.states = { ...d.scene.states, [state]: v }))
										}
									>
										{values[state] === undefined ? 'not set' : values[state] ? 'yes' : 'no'}
									</Check>
								)}
								<span className="text-quiet">
									{askedBy.length === 0
										? 'asked by none'
										: askedBy.map((id) => nameOf(project, 'query', id)).join(', ')}
								</span>
							</>
						) : (
							<Counts carried={carriedBy} asked={askedBy} project={project} />
						)}
					</li>
				))}
			</ul>
			{of === 'scene' && (
				<Adder
					label="New state of the scene"
					onAdd={(id) =>
						store.getState().edit('New state', (d) => void (d.scene.states = { ...d.scene.states, [id]: false }))
					}
				/>
			)}
		</section>
	);
}
