package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/internal/mail"
)

// MailBody is the server for outgoing mail. Its password is told to nobody.
type MailBody struct {
	Host     string `json:"host" doc:"Empty where nothing is mailed"`
	Port     int    `json:"port,omitempty"`
	Security string `json:"security,omitempty" enum:"plain,starttls,tls,"`
	User     string `json:"user,omitempty"`
	From     string `json:"from,omitempty" doc:"The address that mails are from"`
	Address  string `json:"address,omitempty" doc:"Where people reach this application: https://uzzel.example.org"`
	Version  int    `json:"version,omitempty" doc:"The one that was read"`
}

// mail are the operations on mail.
func (a *api) mail(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/settings/mail", "mail-settings", "How mail is sent"),
		func(ctx context.Context, _ *none) (*out[MailBody], error) {
			s, err := a.app.Mail.Settings(ctx)
			if err == nil && !who(ctx).Administers() {
				s = mail.Settings{Host: s.Host} // whether there is one
			}
			return &out[MailBody]{MailBody(s)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/settings/mail", "set-mail-settings", "Name the server for mail, once it has taken one"),
		func(ctx context.Context, in *struct {
			Body struct {
				MailBody
				Password string `json:"password,omitempty" maxLength:"1000" doc:"Empty for the one that there is"`
			}
		}) (*struct{}, error) {
			me, err := a.app.People.AccountOf(ctx, who(ctx).ID)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			s := mail.Settings(in.Body.MailBody)
			return nil, a.fail(ctx, a.app.Mail.Set(ctx, view(ctx), s, in.Body.Password, me.Email))
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/letters", "mail-keys", "Mail one-time addresses to those whom they are for"),
		func(ctx context.Context, in *struct {
			Body struct {
				Keys []string `json:"keys" minItems:"1" maxItems:"500" doc:"What follows # in each address"`
			}
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Mail.Hand(ctx, view(ctx), a.app.People, in.Body.Keys))
		},
	)
}
