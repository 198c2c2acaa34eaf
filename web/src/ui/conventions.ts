// What the numbers of an exercise can be in.
export const LENGTHS = ["mm", "cm", "m", "in", "ft"] as const;
export const ANGLES = ["deg", "rad", "turn"] as const;
export const ORDERS = [
  ...["XYZ", "XZY", "YXZ", "YZX", "ZXY", "ZYX"],
  ...["XYX", "XZX", "YXY", "YZY", "ZXZ", "ZYZ"],
].flatMap((order) => [order, order.toLowerCase()]);
