module uzzel

go 1.26.0

require (
	github.com/alecthomas/participle/v2 v2.1.4
	github.com/spf13/cobra v1.10.2
	golang.org/x/text v0.44.0
)

require (
	github.com/inconshreveable/mousetrap v1.1.0 // indirect
	github.com/spf13/pflag v1.0.10 // indirect
)
