// On a machine that is shared a component may take seconds to show what it was asked for: waiting costs nothing when it does not.
if (typeof window !== 'undefined') require('@testing-library/dom').configure({ asyncUtilTimeout: 20_000 });
