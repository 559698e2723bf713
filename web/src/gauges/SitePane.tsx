import { ChoiceField, type FormState, TextField, TickField } from "../frame/FormField";
import { places } from "../frame/numbers";
import { useUnits } from "../frame/units";
import type { GaugeReading, GaugeWords } from "./gauge";

interface Props {
  form: FormState;
  reading: GaugeReading;
  words: GaugeWords;
}

/** What the gauge meets: product, levels, opening, vapour, wall; empty fields are taken from the tank. */
export function SitePane({ form, reading, words }: Props) {
  const units = useUnits();
  const there = reading.situation;
  const length = (mm: number) => units.tape(mm);
  const celsius = (value: number | undefined) => `${places(value ?? 0, 0)} °C`;
  const density = (value: number | undefined) => `${places(value ?? 0, 0)} kg/m³`;
  return (
    <>
      <p className="text-quiet pane-words">
        What is left empty is taken from the survey and the product, as the fields show in grey.
      </p>
      <h2>Levels and opening</h2>
      <div className="facts">
        <TextField
          form={form}
          path="site.highest"
          label="Highest working level"
          usual={length(there.highest_mm)}
        />
        <TextField
          form={form}
          path="site.lowest"
          label="Lowest working level"
          usual={length(there.lowest_mm)}
        />
        <TextField form={form} path="site.bore" label="Bore of the opening" hint="Inside, as measured" />
        <TextField
          form={form}
          path="site.riser"
          label="Face above the reference"
          hint="− if it hangs below it"
        />
        <TextField form={form} path="site.sediment" label="Sediment" />
        <TextField
          form={form}
          path="site.supply"
          label="Least supply voltage"
          hint="Where the sensor gets it from"
        />
      </div>
      <h2>Product</h2>
      <div className="facts">
        <TextField
          form={form}
          path="site.temperature_low"
          label="Coldest"
          usual={celsius(there.temperature_c[0])}
        />
        <TextField
          form={form}
          path="site.temperature_high"
          label="Hottest"
          usual={celsius(there.temperature_c[1])}
        />
        <TextField
          form={form}
          path="site.pressure"
          label="Pressure above the liquid"
          usual={`${places(there.pressure_bar, 1)} bar`}
        />
        <TextField
          form={form}
          path="site.density_low"
          label="Lightest"
          usual={density(there.density_kg_m3[0])}
        />
        <TextField
          form={form}
          path="site.density_high"
          label="Heaviest"
          usual={density(there.density_kg_m3[1])}
        />
        <ChoiceField
          form={form}
          path="site.zone"
          label="Zone where it sits"
          options={words.zones}
          empty={`by the product: ${words.zones[there.zone] ?? there.zone}`}
          hint="The area's classification decides"
        />
      </div>
      <h2>Above the liquid, and around it</h2>
      <div className="facts">
        <ChoiceField
          form={form}
          path="site.vapour"
          label="Vapour"
          options={words.amounts}
          empty={`by the product: ${there.vapour}`}
        />
        <ChoiceField form={form} path="site.foam" label="Foam" options={words.amounts} />
        <ChoiceField form={form} path="site.waves" label="Waves" options={words.amounts} />
        <ChoiceField form={form} path="site.wall" label="Wall" options={words.walls} />
      </div>
      <div className="ticks">
        <TickField form={form} path="site.double_wall" label="Double wall" />
        <TickField form={form} path="site.lined" label="Lined inside" />
        <TickField form={form} path="site.bottom" label="Bottom can be reached from outside" />
      </div>
    </>
  );
}
