import { besidesOf, describeChange, isFarReaching, isGone, versionsOf } from '@bibliona/core';

/** What core works out of a change of the design, before it is made and where somebody else was faster. */
export default { besidesOf, describeChange, isFarReaching, isGone, versionsOf };
