// A private PostgreSQL cluster on loopback: found or installed, started, and stopped by whoever started it.
import { spawn, spawnSync } from 'node:child_process';
import {
	chmodSync,
	chownSync,
	existsSync,
	mkdirSync,
	readFileSync,
	readdirSync,
	rmSync,
	writeFileSync
} from 'node:fs';
import { createServer } from 'node:net';
import { createHash, randomBytes } from 'node:crypto';
import { join, resolve } from 'node:path';
import pg from 'pg';
import { provide } from './debian.mjs';

/** The newest folder of server programs below a root. @param {string} root */
function findServer(root) {
	const all = join(root, 'usr/lib/postgresql');
	if (!existsSync(all)) return null;
	const versions = readdirSync(all).filter((version) => existsSync(join(all, version, 'bin/initdb')));
	const newest = versions.sort((a, b) => Number(b) - Number(a))[0];
	return newest === undefined ? null : join(all, newest, 'bin');
}

/** A port of 127.0.0.1 that is free now. @param {number} [wanted] @returns {Promise<number>} */
export function freePort(wanted = 0) {
	return new Promise((done, failed) => {
		const server = createServer();
		server.once('error', (error) => (wanted ? freePort(wanted + 1).then(done, failed) : failed(error)));
		server.listen(wanted, '127.0.0.1', () => {
			const address = server.address();
			server.close(() => done(typeof address === 'object' && address ? address.port : 0));
		});
	});
}

/** PostgreSQL does not run as root: then it runs as a user without rights. */
function serverUser() {
	if (process.getuid?.() !== 0) return {};
	const passwd = readFileSync('/etc/passwd', 'utf8');
	const row = /^postgres:[^:]*:(\d+):(\d+):/m.exec(passwd) ?? /^nobody:[^:]*:(\d+):(\d+):/m.exec(passwd);
	if (!row) throw new Error('There is no user “postgres” or “nobody” to run PostgreSQL as.');
	return { uid: Number(row[1]), gid: Number(row[2]) };
}

/** A folder for the cluster that its user can reach: below `home`, else under /var/tmp. @param {string} home @param {{ uid?: number, gid?: number }} user */
function clusterFolder(home, user) {
	const preferred = join(home, 'postgres');
	for (const folder of [
		preferred,
		`/var/tmp/kettle-dial-${createHash('sha256').update(resolve(home)).digest('hex').slice(0, 12)}`
	]) {
		mkdirSync(folder, { recursive: true });
		if (user.uid === undefined || user.gid === undefined) return folder;
		chownSync(folder, user.uid, user.gid);
		chmodSync(folder, 0o700);
		if (spawnSync('test', ['-w', folder], { ...user, cwd: '/' }).status === 0) return folder;
	}
	throw new Error('No folder was found that PostgreSQL can write to.');
}

/**
 * Starts the cluster, making it first when there is none. `DATABASE_URL` uses an existing server instead.
 * @param {string} home folder of state
 * @param {{ throwaway?: boolean }} [options] throwaway: no syncing to disk, for tests
 * @returns {Promise<{ url: string, stop: () => Promise<void> }>}
 */
export async function startPostgres(home, { throwaway = false } = {}) {
	if (process.env.DATABASE_URL) return { url: process.env.DATABASE_URL, stop: async () => undefined };
	mkdirSync(home, { recursive: true });
	const server = provide({ find: findServer, packages: ['postgresql'], home, what: 'PostgreSQL' });
	const user = serverUser();
	const folder = clusterFolder(home, user);
	const data = join(folder, 'data');
	const options = { ...user, cwd: '/', env: { ...process.env, ...server.env, LC_ALL: 'C.UTF-8' } };
	const secretFile = join(home, 'postgres.secret');
	if (!existsSync(join(data, 'PG_VERSION')) || !existsSync(secretFile)) {
		rmSync(data, { recursive: true, force: true });
		const secret = randomBytes(24).toString('hex');
		writeFileSync(secretFile, secret, { mode: 0o600 });
		const given = join(folder, 'password');
		writeFileSync(given, secret, { mode: 0o600 });
		if (user.uid !== undefined && user.gid !== undefined) chownSync(given, user.uid, user.gid);
		const made = spawnSync(
			join(server.path, 'initdb'),
			[
				'-D',
				data,
				'-U',
				'kettle',
				'-E',
				'UTF8',
				'--locale=C.UTF-8',
				'--auth=scram-sha-256',
				`--pwfile=${given}`,
				'--no-sync'
			],
			{ ...options, encoding: 'utf8' }
		);
		rmSync(given);
		if (made.status !== 0)
			throw new Error(`PostgreSQL could not make its cluster: ${made.stderr || made.error?.message}`);
	}
	// A server that an earlier, killed start left behind on this cluster.
	if (existsSync(join(data, 'postmaster.pid')))
		spawnSync(join(server.path, 'pg_ctl'), ['stop', '-D', data, '-m', 'fast', '-w'], options);
	const port = await freePort();
	const settings = [
		'listen_addresses=127.0.0.1',
		'unix_socket_directories=',
		'max_connections=60',
		'jit=off',
		'log_min_messages=fatal'
	];
	if (throwaway) settings.push('fsync=off', 'synchronous_commit=off', 'full_page_writes=off');
	const child = spawn(
		join(server.path, 'postgres'),
		['-D', data, '-p', String(port), ...settings.flatMap((setting) => ['-c', setting])],
		{
			...options,
			detached: true,
			stdio: ['ignore', 'ignore', 'pipe']
		}
	);
	let said = '';
	child.stderr.on('data', (chunk) => (said = (said + chunk).slice(-4000)));
	const ended = new Promise((done) => child.once('exit', done));
	const stop = async () => {
		if (child.exitCode === null && child.signalCode === null) child.kill('SIGINT');
		await ended;
	};
	const url = (/** @type {string} */ database) =>
		`postgres://kettle:${readFileSync(secretFile, 'utf8')}@127.0.0.1:${port}/${database}`;
	for (let tries = 0; ; tries++) {
		const client = new pg.Client({ connectionString: url('postgres') });
		try {
			await client.connect();
			const there = await client.query("select 1 from pg_database where datname = 'kettle'");
			if (there.rowCount === 0) await client.query('create database kettle');
			await client.end();
			return { url: url('kettle'), stop };
		} catch (error) {
			await client.end().catch(() => undefined);
			if (child.exitCode !== null || tries > 150) {
				await stop();
				throw new Error(`PostgreSQL did not start: ${said || error}`, { cause: error });
			}
			await new Promise((done) => setTimeout(done, 100));
		}
	}
}
