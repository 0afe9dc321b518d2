package web

// ShapeOf is what the log says of an address that no route knows.
var ShapeOf = shapeOf
