package people

import (
	"bytes"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"encoding/json"
	"errors"
	"image/png"
	"slices"
	"strings"
	"time"

	"github.com/pquerna/otp"
	"github.com/pquerna/otp/totp"

	"uzzel/internal/fault"
	"uzzel/internal/store"
)

// recoveryCodes is how many codes one is given for when the app is lost.
const recoveryCodes = 10

// codeLife is how long a code of the app is shown (RFC 6238); the one before and the one after are taken as well.
const codeLife = 30 * time.Second

// Secret is what an app is set up with to show codes: as a text, and as a picture to be taken.
type Secret struct {
	Text    string
	Picture string // a data URL
}

// Factor says whether a person signs in with a code besides the password, and how many recovery codes are left.
func (p *People) Factor(ctx context.Context, person int64) (on bool, left int, err error) {
	f, err := p.store.Factor(ctx, person)
	if errors.Is(err, store.ErrNotFound) {
		return false, 0, nil
	}
	return f.Confirmed, len(codesOf(f)), err
}

// NewFactor begins a second factor: who asks has the password. It opens nothing until a code of it is shown (Confirm).
func (p *People) NewFactor(ctx context.Context, who Person, password string) (Secret, error) {
	if err := p.again(ctx, who, password); err != nil {
		return Secret{}, err
	}
	if on, _, err := p.Factor(ctx, who.ID); err != nil || on {
		return Secret{}, errors.Join(err, fault.New(fault.Taken, "", "You sign in with a code already. Turn that off first."))
	}
	acc, err := p.AccountOf(ctx, who.ID)
	if err != nil {
		return Secret{}, err
	}
	name, err := p.store.Organisation(ctx)
	if err != nil {
		return Secret{}, err
	}
	key, err := totp.Generate(
		totp.GenerateOpts{Issuer: "Uzzel " + strings.ReplaceAll(name, ":", " "), AccountName: acc.Email},
	)
	if err != nil {
		return Secret{}, err
	}
	picture, err := key.Image(220, 220)
	if err != nil {
		return Secret{}, err
	}
	var text bytes.Buffer
	if err := png.Encode(&text, picture); err != nil {
		return Secret{}, err
	}
	f := store.Factor{Person: who.ID, Secret: key.Secret(), Recovery: "[]"}
	url := "data:image/png;base64," + base64.StdEncoding.EncodeToString(text.Bytes())
	return Secret{key.Secret(), url}, p.store.PutFactor(ctx, f)
}

// Confirm has a second factor hold from now on, as a code shows that the app has it. It gives the recovery codes, which are
// shown once.
func (p *People) Confirm(ctx context.Context, who Person, code string) ([]string, error) {
	f, err := p.store.Factor(ctx, who.ID)
	if err != nil {
		return nil, fault.FromStore(err, "code that was begun")
	}
	if f.Confirmed {
		return nil, fault.New(fault.Taken, "", "You sign in with a code already.")
	}
	if p.doors.closed(codeDoor(who)) {
		return nil, tooManyCodes()
	}
	step, ok := p.stepOf(f, code)
	if !ok {
		p.doors.wrong(codeDoor(who))
		return nil, fault.New(fault.Invalid, "/code", "This is not the code that the app shows now.")
	}
	codes, hashes := []string{}, []string{}
	for range recoveryCodes {
		text := strings.ToLower(rand.Text())
		code := text[:5] + "-" + text[5:10] + "-" + text[10:15]
		codes, hashes = append(codes, code), append(hashes, hashOf(code))
	}
	left, err := json.Marshal(hashes)
	if err != nil {
		return nil, err
	}
	f.Confirmed, f.Step, f.Recovery = true, step, string(left)
	return codes, p.store.PutFactor(ctx, f)
}

// DropOwnFactor has a person sign in with the password alone again; they have it.
func (p *People) DropOwnFactor(ctx context.Context, who Person, password string) error {
	if err := p.again(ctx, who, password); err != nil {
		return err
	}
	return p.store.DropFactor(ctx, who.ID)
}

// DropFactor takes the second factor of someone away who has lost it, and all recovery codes.
func (p *People) DropFactor(ctx context.Context, who Person, person int64) error {
	if !who.Administers() {
		return fault.New(fault.Forbidden, "", "Only administrators take away what others sign in with.")
	}
	return p.store.DropFactor(ctx, person)
}

// again checks the password of someone who is signed in.
func (p *People) again(ctx context.Context, who Person, password string) error {
	acc, err := p.AccountOf(ctx, who.ID)
	if err != nil {
		return err
	}
	_, err = p.password(ctx, acc.Email, password)
	if fault.Is(err, fault.SignedOut) {
		return fault.New(fault.Invalid, "/password", "This is not your password.")
	}
	return err
}

func codeDoor(who Person) string { return "code of " + who.Key() }

func tooManyCodes() error {
	return fault.New(fault.TooMany, "/code", "Too many wrong codes. Wait ten minutes and try again.")
}

// second checks the code of someone whose password was right; nothing is asked of who has no second factor.
func (p *People) second(ctx context.Context, who Person, code string) error {
	f, err := p.store.Factor(ctx, who.ID)
	if errors.Is(err, store.ErrNotFound) || (err == nil && !f.Confirmed) {
		return nil
	}
	if err != nil {
		return err
	}
	code = strings.TrimSpace(code)
	if code == "" {
		return fault.New(fault.SignedOut, "/code", "Type the code that your app shows, or one of your recovery codes.")
	}
	if p.doors.closed(codeDoor(who)) {
		return tooManyCodes()
	}
	now, ok := f, false
	if step, is := p.stepOf(f, code); is {
		now.Step, ok = step, true
	} else if left := codesOf(f); slices.Contains(left, hashOf(code)) {
		left = slices.DeleteFunc(left, func(h string) bool { return h == hashOf(code) })
		text, err := json.Marshal(left)
		if err != nil {
			return err
		}
		now.Recovery, ok = string(text), true
	}
	if ok {
		err := p.store.UseFactor(ctx, f, now)
		if err == nil {
			p.doors.right(codeDoor(who))
			return nil
		}
		if !errors.Is(err, store.ErrStale) {
			return err
		}
	}
	p.doors.wrong(codeDoor(who))
	return fault.New(fault.SignedOut, "/code", "This is not the code that the app shows now, or it was used before.")
}

// stepOf is the stretch of time that a code is of, now or just before or after, and later than the last that was taken.
func (p *People) stepOf(f store.Factor, code string) (int64, bool) {
	code = strings.ReplaceAll(strings.TrimSpace(code), " ", "")
	now := p.store.Now()
	for _, shift := range []time.Duration{0, -codeLife, codeLife} {
		at := now.Add(shift)
		step := at.Unix() / int64(codeLife/time.Second)
		ok, err := totp.ValidateCustom(code, f.Secret, at, totp.ValidateOpts{Period: 30, Digits: otp.DigitsSix})
		if err == nil && ok && step > f.Step {
			return step, true
		}
	}
	return 0, false
}

func codesOf(f store.Factor) []string {
	var list []string
	if json.Unmarshal([]byte(f.Recovery), &list) != nil {
		return nil
	}
	return list
}

// hashOf is what is kept of a recovery code, which is as long as no guess needs a slow hash.
func hashOf(code string) string {
	sum := sha256.Sum256([]byte(strings.ToLower(strings.TrimSpace(code))))
	return hex.EncodeToString(sum[:])
}
