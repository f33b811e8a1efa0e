import type { Sequelize } from "sequelize";
import { defineAnswers } from "./answers";
import { defineEditing } from "./editing";
import { defineFolders } from "./folders";
import { defineMail } from "./mail";
import { definePeople } from "./people";
import { definePlaces } from "./places";
import { defineRecordings } from "./recordings";
import { defineViewing } from "./viewing";

export type { Caption, Expected } from "./recordings";

/**
 * Every table by its name in code; the migrations make them. Rows by their keys are read and written here. What takes
 * several tables, several rows or a condition of its own is a named statement in the folder's `sql.ts`.
 */
export const defineModels = (sequelize: Sequelize) => ({
  ...definePeople(sequelize),
  ...defineRecordings(sequelize),
  ...defineAnswers(sequelize),
  ...defineViewing(sequelize),
  ...defineEditing(sequelize),
  ...defineMail(sequelize),
  ...defineFolders(sequelize),
  ...definePlaces(sequelize),
});

export type Models = ReturnType<typeof defineModels>;
