//go:build js && wasm

// Command fjell-core is core for the browser: it puts one function on the page, fjellCore(name, json) → json.
package main

import (
	"syscall/js"

	"fjell/core/offline"
)

func main() {
	js.Global().Set("fjellCore", js.FuncOf(func(_ js.Value, args []js.Value) any {
		if len(args) != 2 {
			return ""
		}
		return string(offline.Call(args[0].String(), []byte(args[1].String())))
	}))
	select {}
}
