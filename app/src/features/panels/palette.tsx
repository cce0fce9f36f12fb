/** Commands, objects, queries and moments by typing. */
import { Command } from 'cmdk';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Dialog } from '../../ui/dialog';
import { commandsFor } from '../commands/commands';

const item =
	'flex items-center gap-3 rounded-[3px] px-3 py-1 data-[selected=true]:bg-[var(--wash)] data-[disabled=true]:opacity-60';

export default function Palette() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const close = () => store.getState().show(null);
	/** Closed first: what the command opens must not be closed with it. */
	const then = (run: () => void) => () => {
		close();
		run();
	};
	return (
		<Dialog title="Find" about="a command, an object, a query or a moment" onClose={close}>
			<Command label="Find a command, object, query or moment" className="-m-1">
				<Command.Input data-first placeholder="Type a part of its name" className="mb-2 w-full px-3! py-1.5!" />
				<Command.List className="max-h-[52vh] overflow-auto">
					<Command.Empty className="px-3 py-2 text-quiet">Nothing is called that.</Command.Empty>
					<Command.Group heading={<h3 className="px-3 pt-2 text-[12px] text-quiet">Queries</h3>}>
						{project.queries.map((q) => (
							<Command.Item
								key={q.id}
								value={`query ${q.name ?? q.id} ${q.id}`}
								className={item}
								onSelect={then(() => store.getState().open(q.id))}
							>
								{q.name ?? q.id}
								<span className="ml-auto text-quiet">{q.kind}</span>
							</Command.Item>
						))}
					</Command.Group>
					<Command.Group heading={<h3 className="px-3 pt-2 text-[12px] text-quiet">Commands</h3>}>
						{commandsFor(project)
							.filter((c) => c.id !== 'commands')
							.map((c) => {
								const not = c.not?.(store);
								return (
									<Command.Item
										key={c.id}
										value={`${c.label} ${c.group}`}
										disabled={not !== undefined}
										className={item}
										onSelect={then(() => c.run(store))}
									>
										{c.label}
										<span className="ml-auto text-quiet">{not ?? c.group}</span>
										{c.keys && <kbd className="figure rounded-[2px] border px-1">{c.keys.replace(/ /g, ' + ')}</kbd>}
									</Command.Item>
								);
							})}
					</Command.Group>
					<Command.Group heading={<h3 className="px-3 pt-2 text-[12px] text-quiet">Moments</h3>}>
						{[{ id: '', name: 'Scene as laid out' }, ...(project.moments ?? [])].map((m) => (
							<Command.Item
								key={m.id}
								value={`moment ${m.name ?? m.id} ${m.id}`}
								className={item}
								onSelect={then(() => store.getState().lookAt(m.id === '' ? null : m.id))}
							>
								{m.name ?? m.id}
							</Command.Item>
						))}
					</Command.Group>
					<Command.Group heading={<h3 className="px-3 pt-2 text-[12px] text-quiet">Objects</h3>}>
						{project.scene.objects.slice(0, 2000).map((o) => (
							<Command.Item
								key={o.id}
								value={`object ${o.name ?? o.id} ${o.id}`}
								className={item}
								onSelect={then(() => store.getState().pick(o.id))}
							>
								{o.name ?? o.id}
								<span className="figure ml-auto text-quiet">{(o.tags ?? []).join(', ')}</span>
							</Command.Item>
						))}
					</Command.Group>
				</Command.List>
			</Command>
		</Dialog>
	);
}
