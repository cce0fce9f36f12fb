/** A level as its file has it, before rules make objects of it: the same for glTF and SVG. */
import type { Camera, Project, Shape, Vec2, Vec3 } from '@frelk/core';

/** Triangles of a node, in its own unscaled axes: three numbers a corner, three corners a triangle. */
export interface Surface {
	vertices: number[];
	triangles: number[];
}

/** A node with a mesh or a collider (glTF), or a figure (SVG). */
export interface LevelNode {
	/** Names from the root down, joined by "/"; those of one name under one parent are numbered: `Crate#2`. */
	path: string;
	name: string;
	/** Path of the nearest node above that becomes an object, or null. */
	parent: string | null;
	/** Place, turn and scale in that parent's axes, as the project has them. */
	position: Vec3;
	rotation: Vec3;
	scale: Vec3;
	/** What the file itself says of how it collides; empty where it says nothing. */
	colliders: Shape[];
	/** What is drawn of it, or null. */
	surface: Surface | null;
	/** Tags the file gives (SVG: class). */
	tags: string[];
	/** Id and layer the file asks for (SVG: id, data-layer). */
	id: string | null;
	layer: string | null;
	/** Whether the file shows it. */
	active: boolean;
	extras: unknown;
}

/** A camera of a level: in the axes of the node it hangs on, or of the world. */
export interface LevelCamera {
	path: string;
	name: string;
	parent: string | null;
	camera:
		| Omit<Extract<Camera, { projection: 'perspective' }>, 'id'>
		| Omit<Extract<Camera, { projection: 'orthographic' }>, 'id'>;
}

/** A key of what moves: what it gives is in the axes of what the node hangs on. */
export interface LevelKey {
	/** Seconds. */
	t: number;
	position?: Vec3;
	rotation?: Vec3;
	scale?: Vec3;
}

/** What moves over time, by the paths of nodes and cameras. */
export interface LevelAnimation {
	name: string;
	/** Seconds. */
	duration: number;
	tracks: { of: 'node' | 'camera'; path: string; keys: LevelKey[] }[];
}

/** What was not taken as it stands, with the place. */
export interface LevelNote {
	path: string;
	message: string;
}

/** What a file holds of a level. */
export interface Level {
	kind: 'space' | 'flat';
	name: string;
	nodes: LevelNode[];
	cameras: LevelCamera[];
	animations: LevelAnimation[];
	notes: LevelNote[];
	/** The project that rides in a file of our own, or null. */
	project: Project | null;
	/** How far it reaches from one end to the other, metres; 0 where nothing is known. */
	extent: number;
	/** What a camera shows that shows all of a drawing: its middle and its height (SVG). */
	frame: { middle: Vec2; height: number } | null;
}

/** Objects a project holds. */
export const MAX_NODES = 100_000;

/** A file that cannot be read as a level: the place in it, and what would be right. */
export class LevelError extends Error {}

/** What a long job tells of itself: words, and the part that is done, 0 to 1. */
export type Progress = (what: string, done: number) => void;
