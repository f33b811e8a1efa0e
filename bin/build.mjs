#!/usr/bin/env node
// The production build, where something has changed since the last one.
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { ensureBuild } from "./lib/modules.mjs";

const root = join(dirname(fileURLToPath(import.meta.url)), "..");
process.chdir(root);
ensureBuild(root);
