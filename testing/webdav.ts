import { spawn } from "node:child_process";
import { chmodSync, mkdirSync, mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as delay } from "node:timers/promises";
import { freePort } from "../server/database/cluster";

/** A folder on a server, for whoever knows its name and password. */
export interface WebDavServer {
  /** the address of the folder */
  url: string;
  account: string;
  password: string;
  /** where its files are on this computer */
  folder: string;
  close(): Promise<void>;
}

/** nginx on loopback, with its module for WebDAV (RFC 4918): a server that is not ours. */
export async function openWebDav(): Promise<WebDavServer> {
  const port = await freePort();
  const root = mkdtempSync(join(tmpdir(), "webdav-"));
  const folder = join(root, "www", "videos");
  mkdirSync(folder, { recursive: true });
  const [account, password] = ["orla", "ridge-vent-and-putty"];
  writeFileSync(join(root, "people"), `${account}:{PLAIN}${password}\n`);
  writeFileSync(
    join(root, "conf"),
    `daemon off; pid ${root}/pid; error_log ${root}/error.log; worker_processes 1; ${process.getuid?.() === 0 ? "user root;" : ""}
     events {} http { access_log off; types { video/mp4 mp4; audio/mp4 m4a; }
     client_max_body_size 1g; client_body_temp_path ${root}/tmp;
     server { listen 127.0.0.1:${port}; root ${root}/www; dav_methods PUT DELETE MOVE;
     auth_basic "videos"; auth_basic_user_file ${root}/people; } }`,
  );
  for (const path of [root, join(root, "www"), folder]) chmodSync(path, 0o755);
  const server = spawn("/usr/sbin/nginx", ["-p", root, "-c", join(root, "conf")], { stdio: "ignore" });
  const ended = new Promise<void>((done) => server.once("exit", () => done()));
  const base = `http://127.0.0.1:${port}`;
  for (let tries = 0; ; tries++) {
    const answers = await fetch(base).then(
      () => true,
      () => false,
    );
    if (answers) break;
    if (tries > 100 || server.exitCode !== null) throw new Error("nginx did not start");
    await delay(50);
  }
  const close = async () => {
    server.kill("SIGTERM");
    await ended;
  };
  return { url: `${base}/videos/`, account, password, folder, close };
}
