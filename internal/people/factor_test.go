package people_test

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/require"

	"uzzel/internal/demo"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
)

// Someone with a second factor signs in with the code that the app shows, once each, or with a recovery code, once each.
func TestSecondFactor(t *testing.T) {
	a, s := demotest.App(t)
	ctx, now := context.Background(), time.Unix(1_790_000_000, 0)
	s.Now = func() time.Time { return now }
	who, err := a.People.Who(ctx, 3)
	require.NoError(t, err)
	acc, err := a.People.AccountOf(ctx, 3)
	require.NoError(t, err)
	in := func(code string) error {
		_, err := a.People.SignIn(ctx, acc.Email, demo.Password, code)
		return err
	}
	_, err = a.People.NewFactor(ctx, who, "wrong")
	require.ErrorContains(t, err, "not your password")
	secret, err := a.People.NewFactor(ctx, who, demo.Password)
	require.NoError(t, err)
	require.True(t, strings.HasPrefix(secret.Picture, "data:image/png;base64,"))
	require.NoError(t, in(""), "what was not confirmed asks for nothing")
	_, err = a.People.Confirm(ctx, who, "000000")
	require.ErrorContains(t, err, "not the code")
	shown := func(at time.Time) string {
		code, err := totp.GenerateCode(secret.Text, at)
		require.NoError(t, err)
		return code
	}
	codes, err := a.People.Confirm(ctx, who, shown(now))
	require.NoError(t, err)
	require.Len(t, codes, 10)

	err = in("")
	require.ErrorContains(t, err, "code that your app shows")
	var f *fault.Error
	require.ErrorAs(t, err, &f)
	require.Equal(t, "/code", f.Pointer)
	require.Error(t, in(shown(now)), "it was used to confirm")
	now = now.Add(time.Minute)
	require.NoError(t, in(shown(now)))
	require.ErrorContains(t, in(shown(now)), "used before")
	require.ErrorContains(t, in(shown(now.Add(-time.Hour))), "not the code")
	require.NoError(t, in(" "+strings.ToUpper(codes[3])))
	require.Error(t, in(codes[3]), "a recovery code is used once")
	on, left, err := a.People.Factor(ctx, 3)
	require.NoError(t, err)
	require.True(t, on)
	require.Equal(t, 9, left)
	_, err = a.People.SignIn(ctx, acc.Email, "wrong", codes[4])
	require.ErrorContains(t, err, "No account", "the code alone opens nothing, and is not said to be right")

	// Guessing is stopped, and does not end by the right password.
	for range 10 {
		require.Error(t, in("123456"))
	}
	require.True(t, fault.Is(in(codes[5]), fault.TooMany))
	now = now.Add(11 * time.Minute)
	require.NoError(t, in(codes[5]))

	_, err = a.People.NewFactor(ctx, who, demo.Password)
	require.True(t, fault.Is(err, fault.Taken))
	require.Error(t, a.People.DropOwnFactor(ctx, who, "wrong"))
	require.NoError(t, a.People.DropOwnFactor(ctx, who, demo.Password))
	require.NoError(t, in(""))
	require.True(t, fault.Is(a.People.DropFactor(ctx, who, 2), fault.Forbidden))
}
