// A private PostgreSQL cluster on loopback: found or installed, started, and stopped by whoever started it.
import { spawn, spawnSync } from 'node:child_process';
import {
	chmodSync,
	chownSync,
	existsSync,
	mkdirSync,
	readFileSync,
	readdirSync,
	renameSync,
	rmSync,
	writeFileSync
} from 'node:fs';
import { createServer } from 'node:net';
import { createHash, randomBytes } from 'node:crypto';
import { dirname, join, resolve } from 'node:path';
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

/** Whether a folder holds a cluster, whole or not: then nothing in it is ever taken away. @param {string} folder */
const holdsCluster = (folder) => {
	const data = join(folder, 'data');
	return existsSync(data) && readdirSync(data).length > 0;
};

/**
 * A folder for the cluster that its user can reach: where one is already, else below `home`, else under /var/lib.
 * @param {string} home @param {{ uid?: number, gid?: number }} user
 */
function clusterFolder(home, user) {
	const name = `kettle-dial-${createHash('sha256').update(resolve(home)).digest('hex').slice(0, 12)}`;
	const preferred = join(home, 'postgres');
	if (user.uid === undefined || user.gid === undefined) {
		mkdirSync(preferred, { recursive: true });
		return preferred;
	}
	// Earlier versions put it under /var/tmp, which some systems empty.
	const places = [preferred, join('/var/tmp', name), join('/var/lib', name)];
	const there = places.filter(holdsCluster);
	for (const folder of [...there, preferred, join('/var/lib', name)]) {
		mkdirSync(folder, { recursive: true });
		chownSync(folder, user.uid, user.gid);
		chmodSync(folder, 0o700);
		if (spawnSync('test', ['-w', folder], { ...user, cwd: '/' }).status === 0) return folder;
		if (there.length > 0)
			throw new Error(
				`The database in ${folder} cannot be reached by the user that PostgreSQL runs as. Nothing has changed. Make the folders above it readable for that user (chmod o+x), then start again.`
			);
	}
	throw new Error('No folder was found that PostgreSQL can write to.');
}

/** The programs of the version that made a cluster. @param {string} newest folder of the newest version @param {string} data */
function programsFor(newest, data) {
	const version = readFileSync(join(data, 'PG_VERSION'), 'utf8').trim();
	const own = join(dirname(dirname(newest)), version, 'bin');
	if (existsSync(join(own, 'postgres'))) return own;
	throw new Error(
		`The database in ${data} was made by PostgreSQL ${version}, which is not installed. Nothing has changed. Install the package postgresql-${version}, then start again.`
	);
}

/**
 * @typedef {{ uid?: number, gid?: number, cwd: string, env: NodeJS.ProcessEnv }} RunAs
 * @typedef {{ programs: string, folder: string, secretFile: string, runAs: RunAs, durable: boolean }} Cluster
 */

/** Writes a file that only its owner may read, whole or not at all. @param {string} file @param {string} secret */
function writeSecret(file, secret) {
	const coming = `${file}.coming`;
	writeFileSync(coming, secret, { mode: 0o600, flush: true });
	renameSync(coming, file);
}

/** Makes a cluster beside its place and moves it there when it is whole. @param {Cluster} cluster */
function makeCluster({ programs, folder, secretFile, runAs, durable }) {
	if (!existsSync(secretFile)) writeSecret(secretFile, randomBytes(24).toString('hex'));
	// What a start that was killed while it made the cluster left behind: nobody ever used it.
	const coming = join(folder, 'data.coming');
	rmSync(coming, { recursive: true, force: true });
	const given = join(folder, 'password');
	writeFileSync(given, readFileSync(secretFile), { mode: 0o600 });
	if (runAs.uid !== undefined && runAs.gid !== undefined) chownSync(given, runAs.uid, runAs.gid);
	const words = ['-D', coming, '-U', 'kettle', '-E', 'UTF8', '--locale=C.UTF-8', '--auth=scram-sha-256'];
	words.push(`--pwfile=${given}`);
	if (!durable) words.push('--no-sync');
	const made = spawnSync(join(programs, 'initdb'), words, { ...runAs, encoding: 'utf8' });
	rmSync(given);
	if (made.status !== 0)
		throw new Error(`PostgreSQL could not make its cluster: ${made.stderr || made.error?.message}`);
	renameSync(coming, join(folder, 'data'));
}

/** Gives a cluster whose password was lost a new one; its data stay as they are. @param {Cluster} cluster */
function renewPassword({ programs, folder, secretFile, runAs }) {
	const data = join(folder, 'data');
	const secret = randomBytes(24).toString('hex');
	const done = spawnSync(join(programs, 'postgres'), ['--single', '-D', data, 'postgres'], {
		...runAs,
		encoding: 'utf8',
		input: `alter role kettle password '${secret}'\n`
	});
	if (done.status !== 0 || /ERROR|FATAL/.test(done.stderr))
		throw new Error(
			`The password of the database in ${data} is missing: there is no ${secretFile}, and a new one could not be set. Nothing was deleted. Put that file back from a copy, or move the folder ${folder} away to start with an empty database.`
		);
	writeSecret(secretFile, secret);
	console.error(
		`The password file ${secretFile} was missing. A new password was set; the data are unchanged.`
	);
}

/**
 * Ends a process when the one that started it is gone, however that came about.
 * @param {number} pid @returns {() => void} lets go of it
 */
function tie(pid) {
	// Its standard input ends with this process.
	const watcher = spawn('sh', ['-c', `read -r _; kill -INT ${pid}`], {
		detached: true,
		stdio: ['pipe', 'ignore', 'ignore']
	});
	watcher.unref();
	/** @type {import('node:net').Socket} */ (watcher.stdin).unref();
	return () => void watcher.kill('SIGKILL');
}

/** Milliseconds before a server that ended by itself is started again. */
const RESTART = 300;

/**
 * Starts the cluster, making it first when there is none, and starts it again whenever it ends by itself.
 * `DATABASE_URL` uses an existing server instead. What is in a cluster is never taken away.
 * @param {string} home folder of state
 * @param {{ throwaway?: boolean }} [options] throwaway: no syncing to disk, for tests
 * @returns {Promise<{ url: string, pid: () => number | null, stop: () => Promise<void> }>}
 */
export async function startPostgres(home, { throwaway = false } = {}) {
	if (process.env.DATABASE_URL)
		return { url: process.env.DATABASE_URL, pid: () => null, stop: async () => undefined };
	mkdirSync(home, { recursive: true });
	const server = provide({ find: findServer, packages: ['postgresql'], home, what: 'PostgreSQL' });
	const user = serverUser();
	const folder = clusterFolder(home, user);
	const data = join(folder, 'data');
	/** @type {Cluster} */
	const cluster = {
		programs: server.path,
		folder,
		secretFile: join(home, 'postgres.secret'),
		runAs: { ...user, cwd: '/', env: { ...process.env, ...server.env, LC_ALL: 'C.UTF-8' } },
		durable: !throwaway
	};
	const { secretFile, runAs } = cluster;
	if (!holdsCluster(folder)) makeCluster(cluster);
	else if (!existsSync(join(data, 'PG_VERSION')))
		throw new Error(
			`The database in ${data} is not whole: PG_VERSION is missing. Nothing has changed. Put the folder back from a copy, or move it away to start with an empty database.`
		);
	cluster.programs = programsFor(server.path, data);
	// A server that an earlier, killed start left behind on this cluster.
	if (existsSync(join(data, 'postmaster.pid')))
		spawnSync(join(cluster.programs, 'pg_ctl'), ['stop', '-D', data, '-m', 'fast', '-w'], runAs);
	if (!existsSync(secretFile)) renewPassword(cluster);
	const port = await freePort();
	const settings = [
		'listen_addresses=127.0.0.1',
		'unix_socket_directories=',
		// A server and its worker take up to 33; several of them share one database.
		'max_connections=200',
		'jit=off',
		'log_min_messages=fatal'
	];
	if (throwaway) settings.push('fsync=off', 'synchronous_commit=off', 'full_page_writes=off');
	let said = '';
	let stopping = false;
	/** @type {import('node:child_process').ChildProcess | null} */
	let child = null;
	let ended = Promise.resolve();
	const start = () => {
		const words = ['-D', data, '-p', String(port), ...settings.flatMap((setting) => ['-c', setting])];
		const started = spawn(join(cluster.programs, 'postgres'), words, {
			...runAs,
			detached: true,
			stdio: ['ignore', 'ignore', 'pipe']
		});
		child = started;
		started.stderr.on('data', (chunk) => (said = (said + chunk).slice(-4000)));
		const letGo = started.pid === undefined ? () => undefined : tie(started.pid);
		ended = new Promise((done) =>
			started.once('exit', () => {
				letGo();
				done();
			})
		);
	};
	start();
	const stop = async () => {
		stopping = true;
		if (child && child.exitCode === null && child.signalCode === null) child.kill('SIGINT');
		await ended;
	};
	const url = (/** @type {string} */ database) =>
		`postgres://kettle:${readFileSync(secretFile, 'utf8')}@127.0.0.1:${port}/${database}`;
	const gone = () => !child || child.exitCode !== null || child.signalCode !== null;
	for (let tries = 0; ; tries++) {
		const client = new pg.Client({ connectionString: url('postgres') });
		try {
			await client.connect();
			const there = await client.query("select 1 from pg_database where datname = 'kettle'");
			if (there.rowCount === 0) await client.query('create database kettle');
			await client.end();
			break;
		} catch (error) {
			await client.end().catch(() => undefined);
			// A wrong password does not become right by waiting.
			const refused = /** @type {{ code?: string }} */ (error).code === '28P01';
			if (refused || gone() || tries > 150) {
				await stop();
				throw new Error(
					refused
						? `The password in ${secretFile} is not that of the database in ${data}. Nothing has changed. Put the right file back, or take this one away: a new password is set at the next start.`
						: `PostgreSQL did not start on ${data}: ${said || error}`,
					{ cause: error }
				);
			}
			await new Promise((done) => setTimeout(done, 100));
		}
	}
	const watch = () =>
		void ended.then(async () => {
			if (stopping) return;
			console.error('PostgreSQL ended by itself; starting it again.');
			await new Promise((done) => setTimeout(done, RESTART));
			if (stopping) return;
			start();
			watch();
		});
	watch();
	return { url: url('kettle'), pid: () => child?.pid ?? null, stop };
}
