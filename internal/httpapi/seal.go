package httpapi

import (
	"crypto/aes"
	"crypto/cipher"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"errors"

	"uzzel/core/brief"
)

// seal closes conditions that a reader is not to see, so that they can be handed out and come back. What is sealed twice
// looks the same: the nonce is made from the text, so that equal briefs stay equal.
type seal struct {
	box cipher.AEAD
	key []byte
}

func newSeal(secret []byte) (seal, error) {
	key := sha256.Sum256(append([]byte("conditions "), secret...))
	block, err := aes.NewCipher(key[:])
	if err != nil {
		return seal{}, err
	}
	box, err := cipher.NewGCM(block)
	return seal{box, key[:]}, err
}

func (s seal) close(t brief.Tree) string {
	t.Hidden, t.Sealed = false, ""
	text, err := json.Marshal(t)
	if err != nil {
		return ""
	}
	sum := hmac.New(sha256.New, s.key)
	sum.Write(text)
	nonce := sum.Sum(nil)[:s.box.NonceSize()]
	return base64.RawURLEncoding.EncodeToString(s.box.Seal(nonce, nonce, text, nil))
}

func (s seal) open(text string) (brief.Tree, error) {
	data, err := base64.RawURLEncoding.DecodeString(text)
	if err != nil || len(data) < s.box.NonceSize() {
		return brief.Tree{}, errors.New("no sealed condition")
	}
	n := s.box.NonceSize()
	plain, err := s.box.Open(nil, data[:n], data[n:], nil)
	if err != nil {
		return brief.Tree{}, err
	}
	b, err := brief.Decode([]byte(`{"version":1,"start":"x","filter":` + string(plain) + `}`))
	if err != nil {
		return brief.Tree{}, err
	}
	t := *b.Filter
	t.Hidden = true
	return t, nil
}
