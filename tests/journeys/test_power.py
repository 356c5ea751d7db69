"""What the light costs, what bears it, and hanging it step by step with the lamp in one hand."""

import pytest
from playwright.sync_api import expect

from tests.journeys.conftest import accessible, unclipped

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]

HOURS = [f"2026-01-01T{h:02d}:00Z,{0.1 if h < 8 else 0.4}" for h in range(24)]


def file_of(lines):
    text = "\n".join(["from,price_per_kwh", *lines])
    return {"name": "hours.price.csv", "mimeType": "text/csv", "buffer": text.encode()}


@pytest.fixture
def power(demo):
    demo.get_by_role("link", name="Space & crop").click()
    demo.get_by_role("link", name="Power").click()
    expect(demo.get_by_role("heading", level=1)).to_contain_text("kWh and 0.65 € a day.")
    return demo


def test_what_it_costs_and_what_bears_it(power):
    # common practice, no source: all watts end as heat
    expect(power.get_by_role("region", name="Heat")).to_contain_text("end as heat")
    circuit = power.get_by_role("region", name="Circuit")
    expect(circuit).to_contain_text("Timer's contacts: 1.1 of 8 A")
    circuit.get_by_role("button", name="Change it").click()
    circuit.get_by_label("Timer (A)").fill("0.5")
    accessible(power)
    unclipped(power)
    circuit.get_by_role("button", name="Keep").click()
    # a limit that is passed is the first sentence on the page
    expect(power.get_by_role("alert").first).to_contain_text("The timer switches 1.1 A")
    power.get_by_label("Plants that share it").fill("9")
    expect(power.get_by_role("region", name="What it takes")).to_contain_text("a plant")
    power.get_by_label("A reflective sheet costs (€)").fill("18")
    power.get_by_role("button", name="In how many days it pays").click()
    # silver is as good as a lining gets, or another one pays by a day
    answer = power.get_by_role("region", name="The same light for less")
    expect(answer).to_contain_text("back", timeout=30_000)
    power.reload()
    expect(power.get_by_label("Plants that share it")).to_have_value("9")


def test_another_circuit_is_added_from_a_preset_and_refused_where_it_cannot_be(power):
    circuit = power.get_by_role("region", name="Circuit")
    circuit.get_by_role("button", name="Add a circuit").click()
    circuit.get_by_role("button", name="Usual 120 V circuit").click()
    circuit.get_by_label("Its name").fill("Cellar")
    circuit.get_by_label("Lead (m)").fill("20")
    circuit.get_by_role("button", name="Keep").click()
    expect(circuit).to_contain_text("both the lead's length and its copper")
    circuit.get_by_label("Its copper (mm²)").fill("1.5")
    circuit.get_by_role("button", name="Add fan, heater, pump…").click()
    circuit.get_by_label("What", exact=True).fill("Heater")
    circuit.get_by_label("Watts (W)").fill("1800")
    circuit.get_by_label("Power factor").fill("1")
    circuit.get_by_role("button", name="Keep").click()
    expect(power.get_by_role("alert").first).to_contain_text("too much")
    expect(circuit).to_contain_text("120 V · 17.06 A")
    circuit.get_by_role("button", name="Put it away").click()
    expect(circuit).to_contain_text("What the lamps hang on is not said")
    power.get_by_role("button", name="Undo").click()
    expect(circuit.get_by_label("Circuit of this space")).to_contain_text("Cellar")


def test_prices_by_weekend_by_step_and_by_the_hour(power):
    price = power.get_by_role("region", name="What power costs here")
    price.get_by_text("Hours, days and seasons with another price").click()
    price.get_by_role("button", name="Add hours").click()
    price.get_by_label("On", exact=True).select_option(label="Saturday and Sunday")
    price.get_by_label("From day").fill("02-30")
    price.get_by_role("button", name="Keep").click()
    expect(price).to_contain_text("both the first and the last day")
    price.get_by_label("From day").fill("")
    price.get_by_role("button", name="Keep").click()
    expect(price).to_contain_text("Kept.")
    power.get_by_label("A file of hourly prices (.csv)").set_input_files(
        file_of([*HOURS[:3], *HOURS[4:]])
    )
    expect(price).to_contain_text("Line 5: 1 hour missing")
    power.get_by_label("A file of hourly prices (.csv)").set_input_files(file_of(HOURS))
    expect(price).to_contain_text("Prices of 24 hours")
    price.get_by_role("button", name="Go without them").click()
    expect(price).not_to_contain_text("Prices of 24 hours")


def test_hung_step_by_step_on_the_phone(demo):
    demo.set_viewport_size({"width": 390, "height": 844})
    demo.get_by_role("link", name="Install").click()
    expect(demo.get_by_role("heading", level=1)).to_contain_text("0 of 13 steps done")
    for _ in range(3):
        demo.get_by_role("button", name="Done: ").locator("visible=true").click()
        accessible(demo)
        unclipped(demo)
    expect(demo.get_by_role("heading", level=1)).to_contain_text("3 of 13 steps done")
    expect(demo.get_by_role("heading", name="4. Hang it and level it").last).to_be_visible()
    # back to a step by the browser's own button
    demo.go_back()
    expect(demo.get_by_role("heading", name="3. Mark the hangers").last).to_be_visible()
    demo.get_by_role("button", name="Not done after all: Mark").locator("visible=true").click()
    expect(demo.get_by_role("heading", level=1)).to_contain_text("2 of 13 steps done")
    # what is left for safety is said wherever the plan is shown
    demo.get_by_role("link", name="Season").click()
    strip = demo.get_by_role("region", name="Your plan")
    expect(strip).to_contain_text("Not done yet, for safety: the driver's place, cords")


def test_the_timer_is_read_back_and_the_first_watts_are_held_against_the_plan(demo):
    demo.get_by_role("link", name="Install").click()
    timer = demo.get_by_role("region", name="9. Set the timer").first
    expect(timer).to_contain_text("on at 06:00, off at 20:45")
    # people note 5:00 and set 6:00
    timer.get_by_label("It comes on at").fill("05:00")
    timer.get_by_label("It goes off at").fill("20:45")
    timer.get_by_role("button", name="Done").click()
    expect(timer).to_contain_text("It comes on at 05:00, the plan says 06:00")
    timer.get_by_label("It comes on at").fill("06:00")
    timer.get_by_role("button", name="Keep the reading").click()
    expect(timer).to_contain_text("The timer is set as planned.")
    watts = demo.get_by_role("region", name="11. First watts").first
    watts.get_by_role("button", name="Done").click()
    expect(watts).to_contain_text("Give what you read")
    watts.get_by_label("Watts read (W)").fill("90")
    watts.get_by_role("button", name="Done").click()
    expect(watts).to_contain_text("90 W read, 59 W planned")
    accessible(demo)
    unclipped(demo)
    demo.emulate_media(media="print")
    expect(demo.get_by_text("13. Plants and water").first).to_be_visible()
    expect(demo.get_by_role("button", name="Print the steps")).to_be_hidden()
