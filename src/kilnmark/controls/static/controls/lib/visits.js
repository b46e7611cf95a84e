// The name of a visit: what is typed during one is one state.
export const newVisit = () =>
  `visit-${Date.now().toString(36)}-${Math.random().toString(36).slice(2, 8)}`;
