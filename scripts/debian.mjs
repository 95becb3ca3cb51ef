// Debian's packages: installed as usual by root, else unpacked into a private folder without touching the system.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

/** @param {string} command @param {string[]} args @param {Record<string, string>} [env] */
function run(command, args, env = {}) {
	const done = spawnSync(command, args, {
		encoding: 'utf8',
		env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive', ...env }
	});
	return {
		ok: done.status === 0,
		said: `${done.stderr ?? ''}${done.error?.message ?? ''}`.trim(),
		out: done.stdout ?? ''
	};
}

/** @param {string} what @param {{ ok: boolean, said: string }} done */
function must(what, done) {
	if (!done.ok) throw new Error(`${what} failed: ${done.said.split('\n').slice(-3).join(' ')}`);
}

/** @param {string[]} packages */
function installAsRoot(packages) {
	// The package would start a cluster of its own, on the usual port; ours is private.
	mkdirSync('/etc/postgresql-common', { recursive: true });
	if (!existsSync('/etc/postgresql-common/createcluster.conf'))
		writeFileSync('/etc/postgresql-common/createcluster.conf', 'create_main_cluster = false\n');
	const options = ['-y', '-qq', '--no-install-recommends', '-o', 'Dpkg::Options::=--force-confold'];
	if (!run('apt-get', ['install', ...options, ...packages]).ok) {
		must('apt-get update', run('apt-get', ['update', '-qq']));
		must(`Installing ${packages.join(', ')}`, run('apt-get', ['install', ...options, ...packages]));
	}
}

/** @param {string[]} packages @param {string} folder */
function unpackPrivately(packages, folder) {
	const state = join(folder, 'apt');
	for (const path of ['lists/partial', 'cache/archives/partial'])
		mkdirSync(join(state, path), { recursive: true });
	const options = [
		'-o',
		`Dir::State::lists=${join(state, 'lists')}`,
		'-o',
		`Dir::Cache=${join(state, 'cache')}`,
		'-o',
		'Debug::NoLocking=true',
		'-o',
		'APT::Sandbox::User=',
		'-o',
		'APT::Update::Post-Invoke::=',
		'-o',
		'APT::Update::Post-Invoke-Success::='
	];
	must('apt-get update', run('apt-get', ['update', '-qq', ...options]));
	must(
		`Fetching ${packages.join(', ')}`,
		run('apt-get', [
			'install',
			'-y',
			'-qq',
			'--download-only',
			'--no-install-recommends',
			...options,
			...packages
		])
	);
	const archives = join(state, 'cache/archives');
	for (const name of readdirSync(archives).filter((file) => file.endsWith('.deb')))
		must(`Unpacking ${name}`, run('dpkg-deb', ['-x', join(archives, name), join(folder, 'root')]));
}

/** What programs unpacked below a root need to find their libraries and fonts. @param {string} root */
function environmentOf(root) {
	const libraries = readdirSync(root, { recursive: true })
		.map(String)
		.filter((path) => /\/lib[^/]*\.so(\.[\d.]+)?$/.test(path))
		.map((path) => join(root, dirname(path)));
	const fonts = join(root, 'fonts.conf');
	const folders = [join(root, 'usr/share/fonts'), '/usr/share/fonts']
		.map((folder) => `<dir>${folder}</dir>`)
		.join('');
	writeFileSync(
		fonts,
		`<?xml version="1.0"?><fontconfig>${folders}<cachedir>${join(root, 'fonts.cache')}</cachedir></fontconfig>\n`
	);
	return { LD_LIBRARY_PATH: [...new Set(libraries)].join(':'), FONTCONFIG_FILE: fonts };
}

/**
 * Makes sure a program is there, and says where and with which libraries it runs.
 * @param {{ find: (root: string) => string | null, packages: string[], home: string, what: string }} wish
 * @returns {{ path: string, env: Record<string, string> }} env: what must be set for it to run
 */
export function provide({ find, packages, home, what }) {
	const installed = find('/');
	if (installed) return { path: installed, env: {} };
	const folder = join(home, 'debian', packages[0] ?? 'package');
	const root = join(folder, 'root');
	const unpacked = find(root);
	if (unpacked) return { path: unpacked, env: environmentOf(root) };
	console.error(`Installing ${what}…`);
	if (process.getuid?.() === 0) installAsRoot(packages);
	else unpackPrivately(packages, folder);
	const found = find('/');
	if (found) return { path: found, env: {} };
	const now = find(root);
	if (!now) throw new Error(`${what} was installed but its programs are not where they should be.`);
	return { path: now, env: environmentOf(root) };
}
