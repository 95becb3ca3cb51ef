// Icons one by one: the package's own index would make every build read all of them.
export { default as X } from '@lucide/svelte/icons/x';
export { default as Sun } from '@lucide/svelte/icons/sun';
export { default as Moon } from '@lucide/svelte/icons/moon';
export { default as Undo } from '@lucide/svelte/icons/undo-2';
export { default as Redo } from '@lucide/svelte/icons/redo-2';
export { default as Search } from '@lucide/svelte/icons/search';
export { default as Pen } from '@lucide/svelte/icons/pencil-line';
export { default as Pocket } from '@lucide/svelte/icons/hand';
export { default as Pin } from '@lucide/svelte/icons/pin';
export { default as Up } from '@lucide/svelte/icons/arrow-up';
export { default as Down } from '@lucide/svelte/icons/arrow-down';
export { default as Plus } from '@lucide/svelte/icons/plus';
export { default as Grip } from '@lucide/svelte/icons/grip-vertical';
