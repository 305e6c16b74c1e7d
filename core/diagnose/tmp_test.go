package diagnose_test
import ("testing";"time";"fmt";"innercompass/core/diagnose";"innercompass/internal/catalog";"innercompass/knowledge")
func TestTmp(t *testing.T){
 c,err:=catalog.Load(knowledge.FS); if err!=nil{t.Fatal(err)}
 n:=c.Networks["norrad-h4"]
 s:=diagnose.Situation{Readings:[]diagnose.Reading{
		{ID: "1", Finding: "road.hot.D3.shift", State: "flare", Source: "customer"},
		{ID: "2", Finding: "worse-when", State: "hot", Source: "customer"},
		{ID: "3", Finding: "fluid-level", State: "ok", Source: "measured"},
		{ID: "4", Finding: "road.hot.D3.shift", State: "flare", Source: "seen"},
		{ID: "5", Finding: "road.hot.D2.shift", State: "normal", Source: "seen"},
		{ID: "6", Finding: "road.hot.R.drives", State: "normal", Source: "seen"},
		{ID: "7", Finding: "pressure-pattern", State: "low-DC", Source: "measured"},
 }}
 for k:=3;k<=7;k++ {
 x:=diagnose.Situation{Readings:s.Readings[:k]}
 t0:=time.Now()
 a,err:=n.Assess(x); if err!=nil{t.Fatal(err)}
 fmt.Println("assess",k,time.Since(t0),a.Exact,a.LeftOut,len(a.Hypotheses))
 if k<7 {continue}
 for _,x:=range a.Suspects[:8]{fmt.Printf("%-40s %.3f\n",x.Cause.ID,x.Probability)}
 t0=time.Now(); h:=a.Next(diagnose.Stand{},diagnose.Economics{LabourRate:84,Trial:60}); fmt.Println("next",time.Since(t0),h.Stop,h.RepairBy)
 for _,b:=range h.Best{fmt.Println(b.Check.ID,b.Saves,b.PerMin,n.Why(b))}
 t0=time.Now(); w,_:=a.Weigh(9); fmt.Println("weigh",time.Since(t0),w.HangsOn)
 }
}
