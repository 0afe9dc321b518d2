package main

import (
	"bufio"
	"errors"
	"fmt"
	"os"
	"strings"

	"github.com/spf13/cobra"
	"golang.org/x/term"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/journal"
)

// readPassword reads a line from standard input, which a terminal does not show.
func readPassword(cmd *cobra.Command, prompt string) (access.Secret, error) {
	fmt.Fprint(cmd.ErrOrStderr(), prompt+" (8 characters or more): ")
	if file, ok := cmd.InOrStdin().(*os.File); ok && term.IsTerminal(int(file.Fd())) {
		text, err := term.ReadPassword(int(file.Fd()))
		fmt.Fprintln(cmd.ErrOrStderr())
		return access.Secret(text), err
	}
	line, err := bufio.NewReader(cmd.InOrStdin()).ReadString('\n')
	if err != nil && line == "" {
		return "", errors.New("no password on standard input")
	}
	return access.Secret(strings.TrimRight(line, "\r\n")), nil
}

// plain names the field of a fault, where it has one.
func plain(err error) error {
	var f *journal.Fault
	if errors.As(err, &f) && len(f.Fields) > 0 {
		return fmt.Errorf("%s: %s", f.Fields[0].Path, f.Fields[0].Message)
	}
	return err
}
