export const memberships = ['builder', 'member'] as const;
/** What someone is to an app. Builders do everything in it; members do what their roles grant. */
export type Membership = (typeof memberships)[number];
