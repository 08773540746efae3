package store

import "github.com/alexedwards/argon2id"

// passwordCost is what checking one password takes: 64 MB and one processor, for a tenth of a second (OWASP's Password
// Storage Cheat Sheet asks for no less than 46 MB once over).
var passwordCost = argon2id.Params{Memory: 64 << 10, Iterations: 1, Parallelism: 1, SaltLength: 16, KeyLength: 32}

// HashPassword makes what an account keeps of its password (Argon2id, RFC 9106).
func HashPassword(password string) (string, error) {
	return argon2id.CreateHash(password, &passwordCost)
}
