package web

import (
	"github.com/gin-gonic/gin"
)

// Routes are all routes of the program but for the files of the front end, as the router knows them.
func Routes() gin.RoutesInfo {
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	(&server{gate: newGate()}).mount(engine)
	return engine.Routes()
}

// ShapeOf is what the log says of an address that no route knows.
var ShapeOf = shapeOf
