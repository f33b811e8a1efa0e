// Debian packages: installed when we may, else the exact command is printed.
import { spawnSync } from "node:child_process";
import { existsSync, mkdirSync, readdirSync, writeFileSync } from "node:fs";

/** What is needed, and how we see that it is there. */
export const NEEDED = {
  "postgresql-15": () => {
    const root = "/usr/lib/postgresql";
    return existsSync(root) && readdirSync(root).some((v) => existsSync(`${root}/${v}/bin/postgres`));
  },
  ffmpeg: () => onPath("ffmpeg") && onPath("ffprobe"),
  pgbouncer: () => onPath("pgbouncer") || existsSync("/usr/sbin/pgbouncer"),
  flite: () => onPath("flite"),
  chromium: () => onPath("chromium"),
  "chromium-headless-shell": () => onPath("chromium-headless-shell"),
  "firefox-esr": () => onPath("firefox-esr"),
  xvfb: () => onPath("Xvfb"),
  "nginx-light": () => onPath("nginx") || existsSync("/usr/sbin/nginx"),
};

const onPath = (name) => (process.env.PATH ?? "").split(":").some((dir) => existsSync(`${dir}/${name}`));

/** Installs the missing ones of `names`, or exits with the command that does. */
export function ensurePackages(names) {
  if (!installPackages(names)) process.exit(1);
}

/** Installs the missing ones of `names`. @returns false, with the command that does it, where it cannot be done */
export function installPackages(names) {
  const missing = names.filter((name) => !NEEDED[name]());
  if (missing.length === 0) return true;
  const root = process.getuid() === 0;
  const sudo = !root && spawnSync("sudo", ["-n", "true"], { stdio: "ignore" }).status === 0;
  const install = ["apt-get", "install", "-y", "--no-install-recommends", ...missing];
  if ((!root && !sudo) || !onPath("apt-get")) {
    console.error(
      `Missing: ${missing.join(", ")}. Install with:\n\n  sudo apt-get update && sudo ${install.join(" ")}\n\nthen run this again.`,
    );
    return false;
  }
  console.log(`Installing ${missing.join(", ")} ...`);
  // We start a cluster of our own; Debian's example cluster would only stand beside it.
  if (root && missing.includes("postgresql-15") && !existsSync("/etc/postgresql-common")) {
    mkdirSync("/etc/postgresql-common", { recursive: true });
    writeFileSync("/etc/postgresql-common/createcluster.conf", "create_main_cluster = false\n");
  }
  const run = (command) => {
    const [program, ...args] = root ? command : ["sudo", "-n", ...command];
    return (
      spawnSync(program, args, {
        stdio: ["ignore", "ignore", "inherit"],
        // Runlevel 1: what is installed is started by whoever needs it, and not by Debian.
        env: { ...process.env, DEBIAN_FRONTEND: "noninteractive", RUNLEVEL: "1" },
      }).status === 0
    );
  };
  run(["apt-get", "update", "-qq"]);
  if (!run([...install.slice(0, 2), "-qq", "-o", "Dpkg::Options::=--force-confold", ...install.slice(2)])) {
    console.error(
      `These packages could not be installed. See what apt says above, or run:\n\n  ${install.join(" ")}\n`,
    );
    return false;
  }
  return true;
}
