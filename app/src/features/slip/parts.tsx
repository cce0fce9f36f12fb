/** What the slips of one and of several objects are made of. */
import type { Project, SceneObject } from '@frelk/core';
import { Copy, EyeOff, Lock, Trash2 } from 'lucide-react';
import type { ReactNode } from 'react';
import { useBenchStore } from '../../model/use-bench';
import { Button, Check, Popover } from '../../ui/controls';
import { commandsFor } from '../commands/commands';
import { isHidden, isLocked } from '../edit/objects';

/** A change of an object, named for the history. */
export type ChangeObject = (label: string, recipe: (o: SceneObject) => void) => void;

/** A button that runs a command by its name. */
export function CommandButton({ id, label, children }: { id: string; label: string; children: ReactNode }) {
	const store = useBenchStore();
	const command = commandsFor(store.getState().project).find((c) => c.id === id);
	return (
		<Button
			quiet
			className="px-1!"
			aria-label={label}
			title={command?.keys ? `${label} (${command.keys})` : label}
			onClick={() => command?.run(store)}
		>
			{children}
		</Button>
	);
}

export function HandButtons({ def }: { def: SceneObject | undefined }) {
	return (
		<>
			<CommandButton id="duplicate" label="Duplicate">
				<Copy size={13} />
			</CommandButton>
			<CommandButton id="hide" label={isHidden(def) ? 'Show on the stage' : 'Hide on the stage'}>
				<EyeOff size={13} className={isHidden(def) ? '' : 'opacity-50'} />
			</CommandButton>
			<CommandButton id="lock" label={isLocked(def) ? 'Unlock' : 'Lock against the hand'}>
				<Lock size={13} className={isLocked(def) ? '' : 'opacity-50'} />
			</CommandButton>
			<CommandButton id="delete" label="Delete">
				<Trash2 size={13} />
			</CommandButton>
		</>
	);
}

export const Label = ({ children }: { children: ReactNode }) => <span className="truncate text-quiet">{children}</span>;

export function TagPicker({
	project,
	tags,
	onChange,
}: {
	project: Project;
	tags: readonly string[];
	onChange: (tags: string[]) => void;
}) {
	const text = tags.join(', ') || 'none';
	return (
		<Popover
			label="Tags"
			trigger={
				<Button className="figure justify-start truncate" aria-label={`Tags: ${text}`}>
					{text}
				</Button>
			}
		>
			{project.scene.tags.map((tag) => (
				<Check
					key={tag.id}
					label={tag.name ?? tag.id}
					checked={tags.includes(tag.id)}
					onChange={(on) => {
						const rest = tags.filter((t) => t !== tag.id);
						onChange(on ? [...rest, tag.id] : rest);
					}}
				/>
			))}
			{project.scene.tags.length === 0 && (
				<p className="text-quiet">This project has no tags yet. They are made in the Filters view.</p>
			)}
		</Popover>
	);
}
