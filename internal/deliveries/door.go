package deliveries

import (
	"context"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"strings"

	"uzzel/internal/fault"
)

// doorSecret is the secret that the keys in letters are sealed with.
const doorSecret = "letters"

// leaveLink is the address at which a recipient leaves a delivery without signing in; it opens nothing else.
func (d *Deliveries) leaveLink(ctx context.Context, address string, delivery, person int64) (string, error) {
	secret, err := d.secret(ctx)
	if err != nil {
		return "", err
	}
	what := fmt.Sprintf("%d.%d", delivery, person)
	return address + "/leave#" + what + "." + seal(secret, what), nil
}

func (d *Deliveries) secret(ctx context.Context) (string, error) {
	secret, err := d.store.ReadSecret(ctx, doorSecret)
	if err != nil || secret != "" {
		return secret, err
	}
	err = d.store.Together(ctx, func(ctx context.Context) error {
		if secret, err = d.store.ReadSecret(ctx, doorSecret); err != nil || secret != "" {
			return err
		}
		secret = rand.Text() + rand.Text()
		return d.store.PutSecret(ctx, doorSecret, secret)
	})
	return secret, err
}

func seal(secret, what string) string {
	h := hmac.New(sha256.New, []byte(secret))
	h.Write([]byte(what))
	return base64.RawURLEncoding.EncodeToString(h.Sum(nil))
}

// LeaveBy has whoever holds a key of a letter get it no longer. It gives the title of what they left.
func (d *Deliveries) LeaveBy(ctx context.Context, key string) (string, error) {
	bad := fault.New(fault.NotFound, "", "This address is not whole, or what it is about was taken away.")
	secret, err := d.store.ReadSecret(ctx, doorSecret)
	if err != nil {
		return "", err
	}
	at := strings.LastIndexByte(key, '.')
	if at < 0 || secret == "" || !hmac.Equal([]byte(key[at+1:]), []byte(seal(secret, key[:at]))) {
		return "", bad
	}
	var delivery, person int64
	if _, err := fmt.Sscanf(key[:at], "%d.%d", &delivery, &person); err != nil {
		return "", bad
	}
	row, err := d.store.Delivery(ctx, delivery)
	if err != nil {
		return "", bad
	}
	return row.Title, d.store.SetLeft(ctx, delivery, person, true)
}
