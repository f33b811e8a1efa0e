import type { ColleaguesRight, FolderRight } from "#core/access/folders";
import type { NoticeTime } from "#core/notices/wishes";
import { DataTypes, type CreationOptional, type Sequelize } from "sequelize";
import { key, type Row } from "./row";

/** Where recordings lie. */
export interface Folder extends Row<Folder> {
  id: string;
  workspaceId: string;
  parentId: string | null;
  /** those above, the outermost first, and itself */
  path: string[];
  name: string;
  /** what everybody of the workspace may do: by this folder alone, and by it or one above */
  colleagues: CreationOptional<ColleaguesRight | null>;
  colleaguesHere: CreationOptional<ColleaguesRight | null>;
  madeAt: CreationOptional<Date>;
}

/** Somebody of a folder, and of everything under it. */
export interface FolderPerson extends Row<FolderPerson> {
  id: string;
  folderId: string;
  name: string;
  email: string | null;
  personId: string | null;
  may: FolderRight;
  /** stands in the personal link */
  key: string;
  /** what whoever came by that link shows */
  pass: CreationOptional<string>;
  addedAt: CreationOptional<Date>;
  mailedAt: CreationOptional<Date | null>;
  bounced: CreationOptional<string | null>;
  /** without an account: when they are mailed what is new, and where their clock is */
  news: CreationOptional<NoticeTime>;
  zone: CreationOptional<string>;
  toldAt: CreationOptional<Date | null>;
}

/** A recording that is new for somebody of a folder who has no account. */
export interface FolderNews extends Row<FolderNews> {
  folderPersonId: string;
  recordingId: string;
  at: CreationOptional<Date>;
  /** when it is looked at next whether it is to be told; null afterwards */
  dueAt: CreationOptional<Date | null>;
}

/** What a feed reader of somebody asks for, of one folder. */
export interface Feed extends Row<Feed> {
  id: string;
  /** somebody with an account, or a client by their personal link */
  personId: CreationOptional<string | null>;
  folderPersonId: CreationOptional<string | null>;
  pass: CreationOptional<string | null>;
  folderId: string;
  key: Buffer;
  madeAt: CreationOptional<Date>;
  askedAt: CreationOptional<Date | null>;
}

export function defineFolders(sequelize: Sequelize) {
  const { UUID, UUIDV4, TEXT, DATE, ARRAY, BLOB } = DataTypes;
  return {
    Folder: sequelize.define<Folder>("folder", {
      id: key(UUID),
      workspaceId: UUID,
      parentId: UUID,
      path: ARRAY(UUID),
      name: TEXT,
      colleagues: TEXT,
      colleaguesHere: TEXT,
      madeAt: DATE,
    }),
    FolderPerson: sequelize.define<FolderPerson>(
      "folder_person",
      {
        id: key(UUID),
        folderId: UUID,
        name: TEXT,
        email: TEXT,
        personId: UUID,
        may: TEXT,
        key: TEXT,
        pass: { type: UUID, defaultValue: UUIDV4 },
        addedAt: DATE,
        mailedAt: DATE,
        bounced: TEXT,
        news: TEXT,
        zone: TEXT,
        toldAt: DATE,
      },
      { tableName: "folder_people" },
    ),
    FolderNews: sequelize.define<FolderNews>(
      "folder_news",
      { folderPersonId: key(UUID), recordingId: key(UUID), at: DATE, dueAt: DATE },
      { tableName: "folder_news" },
    ),
    Feed: sequelize.define<Feed>("feed", {
      id: key(UUID),
      personId: UUID,
      folderPersonId: UUID,
      pass: UUID,
      folderId: UUID,
      key: BLOB,
      madeAt: DATE,
      askedAt: DATE,
    }),
  };
}
