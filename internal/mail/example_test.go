package mail_test

import (
	"context"
	"errors"
	"fmt"
	"testing"

	"uzzel/internal/demo/demotest"
	"uzzel/internal/mail"
)

// Nothing is mailed before an administrator names a server for mail.
func ExampleMail_Send() {
	a, _ := demotest.App(&testing.T{})
	err := a.Mail.Send(context.Background(), []mail.Letter{{To: "wila@brinehaven.example", Subject: "Berths", Text: "…"}})
	fmt.Println(errors.Is(err, mail.ErrNone))
	// Output: true
}
