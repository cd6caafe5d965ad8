/** Bibliona's own tables. They are in the schema `bibliona`; the tables of apps are in a schema for each app. */
import { EntitySchema } from 'typeorm';

export interface PersonRow {
  id: number;
  email: string;
  name: string;
  /** argon2id, in the PHC string format. */
  passwordHash: string;
  isAdmin: boolean;
  mayMakeApps: boolean;
  /** When a mailed link proved that the address is theirs. */
  provedAt: Date | null;
  /** How they write numbers and dates; null: as each app does. */
  region: string | null;
}
export interface SessionRow {
  /** SHA-256 of the token in the cookie: who reads the table cannot sign in with it. */
  tokenHash: string;
  /** What the session is called in lists; it signs nobody in. */
  id: string;
  personId: number;
  createdAt: Date;
  seenAt: Date;
  expiresAt: Date;
  browser: string;
}
export interface AppRow {
  id: string;
  schema: string;
  /** The newest of its design; the design itself is with its version. */
  version: number;
  name: string;
  /** How many the design has. */
  tables: number;
}
export interface AppPersonRow {
  appId: string;
  personId: number;
  role: string;
  roles: readonly string[];
  ties: Readonly<Record<string, number>>;
}
export interface InvitationRow {
  /** SHA-256 of the token in the link. */
  tokenHash: string;
  /** What the invitation is called in lists; it lets nobody in. */
  id: string;
  appId: string;
  email: string;
  role: string;
  roles: readonly string[];
  ties: Readonly<Record<string, number>>;
  invitedBy: number | null;
  expiresAt: Date;
}
/** One version of a design, with where undo and redo lead from it. */
export interface DesignVersionRow {
  appId: string;
  version: number;
  at: Date;
  personId: number | null;
  description: string;
  design: unknown;
  undoTo: number | null;
  redoTo: number | null;
  /** The plan that led here from the version before, where values of records went along. */
  rearranged: unknown;
}
/** What a change of design set aside. */
export interface KeptRow {
  appId: string;
  name: string;
  at: Date;
  what: unknown;
}
export interface ImportRow {
  id: string;
  appId: string;
  personId: number;
  fileName: string;
  createdAt: Date;
  state: string;
  /** Survey, plan, complaints and result, as the contract describes them. */
  facts: Record<string, unknown>;
}
export interface MadeFileRow {
  id: string;
  appId: string;
  personId: number;
  name: string;
  createdAt: Date;
  state: string;
  /** What was asked for, how far it is, and what came of it. */
  facts: Record<string, unknown>;
}
export interface SettingRow {
  name: string;
  value: string;
}

const schema = 'bibliona';
const number = { type: 'bigint', transformer: { from: (value: unknown) => (value === null ? null : Number(value)), to: (value: unknown) => value } } as const;

export const Persons = new EntitySchema<PersonRow>({
  name: 'Person',
  tableName: 'person',
  schema,
  columns: {
    id: { ...number, primary: true, generated: 'increment' },
    email: { type: 'text', unique: true },
    name: { type: 'text' },
    passwordHash: { type: 'text', name: 'password_hash' },
    isAdmin: { type: 'boolean', name: 'is_admin', default: false },
    mayMakeApps: { type: 'boolean', name: 'may_make_apps', default: false },
    provedAt: { type: 'timestamptz', name: 'proved_at', nullable: true },
    region: { type: 'text', nullable: true },
  },
});
export const Sessions = new EntitySchema<SessionRow>({
  name: 'Session',
  tableName: 'session',
  schema,
  columns: {
    tokenHash: { type: 'text', primary: true, name: 'token_hash' },
    id: { type: 'uuid', default: () => 'gen_random_uuid()' },
    personId: { ...number, name: 'person_id' },
    createdAt: { type: 'timestamptz', name: 'created_at', default: () => 'now()' },
    seenAt: { type: 'timestamptz', name: 'seen_at', default: () => 'now()' },
    expiresAt: { type: 'timestamptz', name: 'expires_at' },
    browser: { type: 'text', default: '' },
  },
});
export const Apps = new EntitySchema<AppRow>({
  name: 'App',
  tableName: 'app',
  schema,
  columns: { id: { type: 'text', primary: true }, schema: { type: 'text' }, version: { type: 'integer' }, name: { type: 'text' }, tables: { type: 'integer' } },
});
export const AppPersons = new EntitySchema<AppPersonRow>({
  name: 'AppPerson',
  tableName: 'app_person',
  schema,
  columns: {
    appId: { type: 'text', primary: true, name: 'app_id' },
    personId: { ...number, primary: true, name: 'person_id' },
    role: { type: 'text' },
    roles: { type: 'text', array: true },
    ties: { type: 'jsonb' },
  },
});
export const Invitations = new EntitySchema<InvitationRow>({
  name: 'Invitation',
  tableName: 'invitation',
  schema,
  columns: {
    tokenHash: { type: 'text', primary: true, name: 'token_hash' },
    id: { type: 'uuid', default: () => 'gen_random_uuid()' },
    appId: { type: 'text', name: 'app_id' },
    email: { type: 'text' },
    role: { type: 'text' },
    roles: { type: 'text', array: true },
    ties: { type: 'jsonb' },
    invitedBy: { ...number, nullable: true, name: 'invited_by' },
    expiresAt: { type: 'timestamptz', name: 'expires_at' },
  },
  uniques: [{ columns: ['appId', 'email'] }],
});
export const DesignVersions = new EntitySchema<DesignVersionRow>({
  name: 'DesignVersion',
  tableName: 'design_version',
  schema,
  columns: {
    appId: { type: 'text', primary: true, name: 'app_id' },
    version: { type: 'integer', primary: true },
    at: { type: 'timestamptz', default: () => 'now()' },
    personId: { ...number, nullable: true, name: 'person_id' },
    description: { type: 'text', name: 'says' },
    design: { type: 'json' },
    undoTo: { type: 'integer', nullable: true, name: 'undo_to' },
    redoTo: { type: 'integer', nullable: true, name: 'redo_to' },
    rearranged: { type: 'jsonb', nullable: true },
  },
});
export const KeptParts = new EntitySchema<KeptRow>({
  name: 'Kept',
  tableName: 'kept',
  schema,
  columns: {
    appId: { type: 'text', primary: true, name: 'app_id' },
    name: { type: 'text', primary: true },
    at: { type: 'timestamptz', default: () => 'now()' },
    what: { type: 'jsonb' },
  },
});
export const Imports = new EntitySchema<ImportRow>({
  name: 'Import',
  tableName: 'import',
  schema,
  columns: {
    id: { type: 'uuid', primary: true },
    appId: { type: 'text', name: 'app_id' },
    personId: { ...number, name: 'person_id' },
    fileName: { type: 'text', name: 'file_name' },
    createdAt: { type: 'timestamptz', name: 'created_at', default: () => 'now()' },
    state: { type: 'text' },
    facts: { type: 'jsonb' },
  },
});
export const MadeFiles = new EntitySchema<MadeFileRow>({
  name: 'MadeFile',
  tableName: 'made_file',
  schema,
  columns: {
    id: { type: 'uuid', primary: true },
    appId: { type: 'text', name: 'app_id' },
    personId: { ...number, name: 'person_id' },
    name: { type: 'text' },
    createdAt: { type: 'timestamptz', name: 'created_at', default: () => 'now()' },
    state: { type: 'text' },
    facts: { type: 'jsonb' },
  },
});
export const Settings = new EntitySchema<SettingRow>({
  name: 'Setting',
  tableName: 'setting',
  schema,
  columns: { name: { type: 'text', primary: true }, value: { type: 'text' } },
});

export const entities = [Persons, Sessions, Apps, AppPersons, Invitations, DesignVersions, KeptParts, Imports, MadeFiles, Settings];
