package e2e

import (
	"os"
	"testing"

	"github.com/chromedp/chromedp"
)

// TestScreens takes the pictures of docs/screenshots, where SHOTS names a folder for them.
func TestScreens(t *testing.T) {
	if os.Getenv("SHOTS") == "" {
		t.Skip("set SHOTS to a folder, or run make screenshots")
	}
	url := open(t)
	p := browse(t, url)
	p.find("button", "Maite Corrie")
	p.shot("sign-in")
	p.signIn("Osric Jarrow")
	p.find("link", "Won by segment")
	p.shot("reports")
	p.click("link", "What closes this quarter")
	p.find("figure", "Value by stage")
	p.find("table", "Groups")
	p.shot("compose")
	p.click("button", "Place on…")
	p.click("checkbox", "Customers")
	p.sees("stands there")
	p.escape()
	p.click("button", "this quarter")
	p.find("option", "this month")
	p.shot("compose-period")
	p.escape()
	p.press("button", "Design: €")
	p.find("heading", "Behind Design: €")
	p.find("cell", "Design")
	p.shot("behind")
	customer := p.await(`document.querySelector("[role=dialog] a[href^='/records/customers/']")?.pathname`)
	p.escape()
	p.click("link", "Dashboards")
	p.click("link", "Company, Monday")
	for _, panel := range []string{"Value by stage", "Activities by owner and kind", "Value by customer’s segment", "Deals by created by month"} {
		p.find("figure", panel)
	}
	p.sees("rows, all of them")
	p.shot("dashboard")
	p.click("link", "Reports")
	p.find("heading", "Reports")
	p.click("link", "Who did what in the last four weeks")
	p.find("table", "Groups")
	p.shot("cross-tab")
	p.click("button", "On ink")
	p.shot("cross-tab-on-ink")
	p.click("link", "Dashboards")
	p.find("heading", "Dashboards")
	p.click("link", "Company, Monday")
	p.find("figure", "Value by stage")
	p.shot("dashboard-on-ink")
	p.click("button", "On paper")
	p.click("link", "Deals")
	p.find("cell", "€")
	p.shot("records")
	p.visit(customer)
	p.find("figure", "Value by stage")
	p.find("table", "Records")
	p.sees("all of them")
	p.shot("customer")
	p.do(chromedp.EmulateViewport(390, 844))
	p.visit("/dashboards/1")
	p.find("figure", "Value by stage")
	p.shot("dashboard-phone")
}
